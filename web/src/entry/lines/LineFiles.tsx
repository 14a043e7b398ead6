import { presentLines } from '@fiche/core/entry';
import type { AttachmentSettings } from '@fiche/core/fields';
import type { PreparedField, PreparedSubform } from '@fiche/core/forms';
import { say } from '@fiche/core/languages';
import { clsx } from 'clsx';
import { type RefObject, useEffect, useRef } from 'react';
import { attachmentsCss, FileAdding, limitsOf, SendingItems, useSending } from '../../inputs/index.ts';
import type { Entry } from '../useEntry.ts';
import lineFilesCss from './lineFiles.module.css';

interface Props {
  readonly entry: Entry;
  readonly subform: PreparedSubform;
  readonly field: PreparedField;
  /** No line can be added any more; what did not get there is still said. */
  readonly full: boolean;
  /** What files are dropped and pasted on: the lines as a whole. */
  readonly box: RefObject<HTMLElement | null>;
}

/** Many files in one action become a line each. */
export default function LineFiles({ entry, subform, field, full, box }: Props) {
  const { state, dispatch } = entry;
  const { most } = subform.definition;
  const way = useSending({
    field,
    subform: subform.id,
    room: () => (most ?? Infinity) - presentLines(state, subform.id).length,
    most: say('at most {most} of these fit here', { most: most ?? '' }),
    onArrived: (token) => dispatch({ type: 'lineBegun', subform: subform.id, field: field.id, value: [token] }),
  });
  const add = useRef(way.add);
  add.current = way.add;
  useEffect(() => {
    const lines = box.current;
    if (!lines) return;
    const take = (event: DragEvent | ClipboardEvent, files: FileList | undefined): void => {
      if (!files || files.length === 0) return;
      // One file onto a cell is for that cell.
      const cell = (event.target as Element).closest('[data-column] [data-files]');
      if (files.length === 1 && cell) return;
      event.preventDefault();
      event.stopPropagation();
      add.current(files);
    };
    const drop = (event: DragEvent): void => take(event, event.dataTransfer?.files);
    const paste = (event: ClipboardEvent): void => take(event, event.clipboardData?.files);
    const over = (event: DragEvent): void => event.preventDefault();
    lines.addEventListener('drop', drop, true);
    lines.addEventListener('paste', paste, true);
    lines.addEventListener('dragover', over);
    return () => {
      lines.removeEventListener('drop', drop, true);
      lines.removeEventListener('paste', paste, true);
      lines.removeEventListener('dragover', over);
    };
  }, [box]);
  return (
    <div className={clsx(attachmentsCss.attachments, lineFilesCss.lineFiles)}>
      {!full && (
        <FileAdding
          field={field}
          how={say('or drop or paste them here')}
          limits={say('a line each, {limits}', { limits: limitsOf(field.field.settings as AttachmentSettings) })}
          multiple
          onFiles={way.add}
        />
      )}
      <ul aria-label={say('{what}, on their way', { what: subform.label })}>
        <SendingItems field={field} {...way} />
      </ul>
    </div>
  );
}
