import { isPresent, linePath, openColumns, presentLines, problemsOf } from '@fiche/core/entry';
import { holdsFiles } from '@fiche/core/fields';
import { type PreparedSubform, ROWS } from '@fiche/core/forms';
import Button from '@mui/material/Button';
import { type ClipboardEvent, type KeyboardEvent, lazy, Suspense, useEffect, useRef, useState } from 'react';
import { isShortcut, pastedCells, textCss } from '../../parts/index.ts';
import { focusField } from '../focus.ts';
import type { Entry } from '../useEntry.ts';
import { LineCards } from './LineCards.tsx';
import { LineRows } from './LineRows.tsx';
import type { LinesProps } from './lineProps.ts';
import linesCss from './lines.module.css';
import { type Pasted, PastePreview, pastePreview } from './PastePreview.tsx';
import { columnsOf, mayGo } from './useLine.ts';

const LineFiles = lazy(() => import('./LineFiles.tsx'));

/** Narrower than this, in px, rows have no room. */
const SLIM = 520;

/** The lines of a subform: as rows on a wide card, as cards on a narrow one or where the form wants them. */
export default function Lines({ entry, subform, narrow, focusBlank, titled, onWhy, onAdd }: LinesProps) {
  const { state, dispatch } = entry;
  const [pasted, setPasted] = useState<Pasted>();
  const [pasting, setPasting] = useState(false);
  const [trouble, setTrouble] = useState('');
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
  // biome-ignore lint/correctness/useExhaustiveDependencies: once, when the lines open.
  useEffect(() => {
    const [first] = openColumns(subform);
    if (focusBlank && first !== undefined) go(lines.at(-1)?.key, first);
  }, []);

  const placeOf = (target: EventTarget): { key: string; field: string } | undefined => {
    const cell = (target as Element).closest<HTMLElement>('[data-line]');
    return cell ? { key: cell.dataset.line ?? '', field: cell.dataset.column ?? '' } : undefined;
  };
  const go = (key: string | undefined, field: string): void => {
    if (key !== undefined) requestAnimationFrame(() => focusField(linePath({ subform: subform.id, key }, field)));
  };
  /** What is for the line goes before what its input would do with the same keys. */
  const onLineKey = (event: KeyboardEvent): void => {
    const place = placeOf(event.target);
    if (!place || !(event.altKey || event.ctrlKey)) return;
    const { key, field } = place;
    const line = { subform: subform.id, key };
    const at = lines.findIndex((one) => one.key === key);
    const down = isShortcut(event, 'lineDown');
    if ((down || isShortcut(event, 'lineUp')) && subform.ordered) {
      dispatch({ type: 'lineMoved', line, to: at + (down ? 1 : -1) });
      go(key, field);
    } else if (isShortcut(event, 'copyDown')) {
      dispatch({ type: 'copiedDown', line, field });
      go(key, field);
    } else if (isShortcut(event, 'removeLine') && lines[at] && mayGo(subform, lines[at])) {
      dispatch({ type: 'lineArchived', line });
      go((lines[at + 1] ?? lines[at - 1])?.key, field);
    } else if (isShortcut(event, 'undoLines')) dispatch({ type: 'linesUndone' });
    else return;
    event.preventDefault();
    event.stopPropagation();
  };
  const onKeyDown = (event: KeyboardEvent): void => {
    const place = placeOf(event.target);
    if (!place || event.defaultPrevented) return;
    const { key, field } = place;
    const at = lines.findIndex((one) => one.key === key);
    const here = lines[at];
    if (!here) return;
    const [up, down] = [event.key === 'ArrowUp', event.key === 'ArrowDown'];
    const inText = (event.target as HTMLElement).getAttribute('role') !== 'combobox';
    if ((up || down) && inText && !event.shiftKey) go(lines[at + (down ? 1 : -1)]?.key, field);
    // Enter in the blank line ends the list: on to what comes after it.
    else if (event.key === 'Enter' && !event.ctrlKey && !isPresent(here) && isEmptyCell(event.target))
      leave(event.target);
    else return;
    event.preventDefault();
    event.stopPropagation();
  };
  const leave = (from: EventTarget): void => {
    const all = [
      ...document.querySelectorAll<HTMLElement>('[data-card] input, [data-card] textarea, [data-card] [data-save]'),
    ];
    const after = all.find(
      (one) => !box.current?.contains(one) && follows(from as Element, one) && !one.matches(':disabled'),
    );
    after?.focus();
  };
  const onPaste = (event: ClipboardEvent): void => {
    const text = event.clipboardData.getData('text/plain');
    const place = placeOf(event.target);
    if (!place || !/[\t\n]/.test(text.trimEnd())) return;
    event.preventDefault();
    setPasting(true);
    setTrouble('');
    const line = { subform: subform.id, key: place.key };
    pastedCells(text)
      .then((rows) => pastePreview(entry, subform, { type: 'pasted', line, field: place.field, rows }))
      .then((found) => {
        if (found.misfits.length === 0) found.take();
        else setPasted(found);
      })
      .catch((error: Error) => setTrouble(`${error.message} Nothing was pasted.`))
      .finally(() => setPasting(false));
  };

  const noun = subform.id === ROWS ? 'record' : 'line';
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
          {there.length === 0 ? 'None yet' : `${there.length} ${noun}${there.length === 1 ? '' : 's'}`}
          {least !== null && there.length < least && `, at least ${least}`}
          {most !== null && `, at most ${most}`}
          {gone > 0 && `, ${gone} to be archived`}
        </span>
        {pasting && (
          <span className={textCss.faded} role="status">
            Reading what was pasted…
          </span>
        )}
        {trouble !== '' && (
          <span className={textCss.problem} role="alert">
            {trouble}
          </span>
        )}
        {state.past.length > 0 && (
          <Button variant="text" className={linesCss.end} onClick={() => dispatch({ type: 'linesUndone' })}>
            Undo in lines
          </Button>
        )}
      </header>
      {pasted && (
        <PastePreview
          pasted={pasted}
          onClose={() => setPasted(undefined)}
          onTake={() => {
            pasted.take();
            setPasted(undefined);
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
  if (!state.touched[id]) return [];
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

const isEmptyCell = (target: EventTarget): boolean => (target as HTMLInputElement).value === '';

const follows = (from: Element, to: Element): boolean =>
  (from.compareDocumentPosition(to) & Node.DOCUMENT_POSITION_FOLLOWING) !== 0;
