import type { PreparedSubform } from '@fiche/core/forms';
import { say } from '@fiche/core/languages';
import { type ClipboardEvent, useState } from 'react';
import { pastedCells } from '../../parts/index.ts';
import type { Entry } from '../useEntry.ts';
import { type Pasted, pastePreview } from './PastePreview.tsx';
import { cellOf } from './useLineKeys.ts';

/** A block pasted into the lines: taken at once where all of it fits, otherwise shown first as `pasted`. */
export function usePastedLines(entry: Entry, subform: PreparedSubform) {
  const [pasted, setPasted] = useState<Pasted>();
  const [pasting, setPasting] = useState(false);
  const [trouble, setTrouble] = useState('');
  const onPaste = (event: ClipboardEvent): void => {
    const text = event.clipboardData.getData('text/plain');
    const cell = cellOf(event.target);
    if (!cell || !/[\t\n]/.test(text.trimEnd())) return;
    event.preventDefault();
    setPasting(true);
    setTrouble('');
    const line = { subform: subform.id, key: cell.key };
    pastedCells(text)
      .then((rows) => pastePreview(entry, subform, { type: 'pasted', line, field: cell.field, rows }))
      .then((found) => {
        if (found.misfits.length === 0) found.take();
        else setPasted(found);
      })
      .catch((error: Error) => setTrouble(say('{why} Nothing was pasted.', { why: error.message })))
      .finally(() => setPasting(false));
  };
  return { pasted, pasting, trouble, onPaste, close: () => setPasted(undefined) };
}
