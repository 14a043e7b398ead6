import { isPresent, openColumns, presentLines, problemsOf } from '@fiche/core/entry';
import { holdsFiles } from '@fiche/core/fields';
import { type PreparedSubform, ROWS } from '@fiche/core/forms';
import { say, sayCount } from '@fiche/core/languages';
import Button from '@mui/material/Button';
import { lazy, Suspense, useEffect, useRef, useState } from 'react';
import { textCss } from '../../parts/index.ts';
import type { Entry } from '../useEntry.ts';
import { LineCards } from './LineCards.tsx';
import { LineRows } from './LineRows.tsx';
import type { LinesProps } from './lineProps.ts';
import linesCss from './lines.module.css';
import { PastePreview } from './PastePreview.tsx';
import { columnsOf } from './useLine.ts';
import { useLineKeys } from './useLineKeys.ts';
import { usePastedLines } from './usePastedLines.ts';

const LineFiles = lazy(() => import('./LineFiles.tsx'));

/** Narrower than this, in px, rows have no room. */
const SLIM = 520;

/** The lines of a subform: as rows on a wide card, as cards on a narrow one or where the form wants them. */
export default function Lines({ entry, subform, narrow, focusBlank, titled, onWhy, onAdd }: LinesProps) {
  const { state, dispatch } = entry;
  const box = useRef<HTMLElement>(null);
  const [slim, setSlim] = useState(false);
  useEffect(() => {
    if (!box.current) return;
    const watch = new ResizeObserver(([entry]) => setSlim((entry?.contentRect.width ?? SLIM) < SLIM));
    watch.observe(box.current);
    return () => watch.disconnect();
  }, []);
  const lines = (state.lines[subform.id] ?? []).filter((line) => !line.archived);
  const there = presentLines(state, subform.id);
  const gone = (state.lines[subform.id] ?? []).filter((line) => line.archived).length;
  const { least, most, as } = subform.definition;
  const { onLineKey, onKeyDown, go } = useLineKeys(entry, subform, lines, box);
  // biome-ignore lint/correctness/useExhaustiveDependencies: once, when the lines open.
  useEffect(() => {
    const [first] = openColumns(subform);
    if (focusBlank && first !== undefined) go(lines.at(-1)?.key, first);
  }, []);
  const { pasted, pasting, trouble, onPaste, close } = usePastedLines(entry, subform);

  const files = filesColumn(subform);
  const Shape = as === 'cards' || narrow || slim ? LineCards : LineRows;
  return (
    <section
      className={linesCss.lines}
      aria-label={subform.label}
      ref={box}
      onKeyDownCapture={onLineKey}
      onKeyDown={onKeyDown}
      onPaste={onPaste}
    >
      <header className={linesCss.head}>
        {titled && <h3>{subform.label}</h3>}
        <span className={textCss.faded}>
          {[
            there.length === 0
              ? say('None yet')
              : subform.id === ROWS
                ? sayCount(there.length, '{count} record', '{count} records')
                : sayCount(there.length, '{count} line', '{count} lines'),
            ...(least !== null && there.length < least ? [say('at least {least}', { least })] : []),
            ...(most === null ? [] : [say('at most {most}', { most })]),
            ...(gone > 0 ? [say('{count} to be archived', { count: gone })] : []),
          ].join(', ')}
        </span>
        {pasting && (
          <span className={textCss.faded} role="status">
            {say('Reading what was pasted…')}
          </span>
        )}
        {trouble !== '' && (
          <span className={textCss.problem} role="alert">
            {trouble}
          </span>
        )}
        {state.past.length > 0 && (
          <Button variant="text" className={linesCss.end} onClick={() => dispatch({ type: 'linesUndone' })}>
            {say('Undo in lines')}
          </Button>
        )}
      </header>
      {pasted && (
        <PastePreview
          pasted={pasted}
          onClose={close}
          onTake={() => {
            pasted.take();
            close();
            go(lines[0]?.key, openColumns(subform)[0] ?? '');
          }}
        />
      )}
      {files && subform.form.definition.may.add && (
        <Suspense>
          <LineFiles entry={entry} subform={subform} field={files} full={lines.every(isPresent)} box={box} />
        </Suspense>
      )}
      <Shape entry={entry} subform={subform} lines={lines} onWhy={onWhy} onAdd={onAdd} />
      <div aria-live="polite">
        {subformProblems(entry, subform.id).map((message) => (
          <p key={message} className={textCss.problem}>
            {message}
          </p>
        ))}
      </div>
    </section>
  );
}

/** What stands against the lines as a whole, once Save was pressed or a line is there. */
function subformProblems({ state }: Entry, id: string): string[] {
  if (!state.fields[id]?.touched) return [];
  return [
    ...new Set(
      problemsOf(state)
        .filter((problem) => problem.path === id)
        .map((one) => one.message),
    ),
  ];
}

/** The column that files dropped on the lines go to. Rows are saved one by one, as they are left: there is none. */
const filesColumn = (subform: PreparedSubform) =>
  subform.id === ROWS ? undefined : columnsOf(subform).find(({ field, readOnly }) => holdsFiles(field) && !readOnly);
