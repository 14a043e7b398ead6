import type { EntryAnswer, RecordView } from '@fiche/core/api';
import { type Opening, visibleProblems } from '@fiche/core/entry';
import { sameValue, type Values } from '@fiche/core/fields';
import type { PreparedForm } from '@fiche/core/forms';
import { say } from '@fiche/core/languages';
import { civilNow } from '@fiche/core/office';
import type { FieldId, RecordId, TableDefinition } from '@fiche/core/tables';
import ClickAwayListener from '@mui/material/ClickAwayListener';
import Paper from '@mui/material/Paper';
import Popper from '@mui/material/Popper';
import { useQuery } from '@tanstack/react-query';
import { type KeyboardEvent, useEffect, useMemo, useRef } from 'react';
import { send, useOffice, useTableForm } from '../client/index.ts';
import { focusField, hasUnsavedWork, OneField, PlaceContext, placeName, ReasonList, useEntry } from '../entry/index.ts';
import { textCss } from '../parts/index.ts';
import type { PlacedRecord } from './card.ts';
import cellEditorCss from './cellEditor.module.css';
import type { RowStep } from './useRowSteps.ts';

/** Where editing goes on: the cell below, the next or previous one of the row, or nowhere. */
export type EditStep = 'down' | 'next' | 'previous' | 'nowhere';

interface CellEditorProps {
  readonly table: TableDefinition;
  readonly record: RecordId;
  readonly field: FieldId;
  /** What was typed to begin; without, the value stands as it is. */
  readonly typed: string | undefined;
  /** The input takes the focus again when this rises. */
  readonly turn: number;
  /** The id of the cell, over which the input stands. */
  readonly cell: string;
  /** The row was saved: what it was and became, and its version now. */
  onSaved(step: RowStep, version: number): void;
  onStep(step: EditStep): void;
}

/** What marks the input of a cell among those of the page. */
const PREFIX = 'cell:';

/** An input over a cell of a list, with the choices, fills and rules of the record's card. The row is saved as it is left. */
export function CellEditor(props: CellEditorProps) {
  const { table, record } = props;
  const query = useQuery({
    queryKey: ['record', table.id, String(record), 'cell'],
    queryFn: () => send<PlacedRecord>('GET', `/api/tables/${table.id}/records/${record}`),
    // What is typed is over the record as it was opened; what others save meanwhile is merged by the save.
    staleTime: Number.POSITIVE_INFINITY,
    gcTime: 0,
  });
  const { data: opened } = query;
  const anchor = document.getElementById(props.cell);
  if (!anchor) return null;
  return (
    <Popper
      open
      role="group"
      aria-label={say('Edit in the list')}
      anchorEl={anchor}
      placement="bottom-start"
      className={cellEditorCss.editor}
      modifiers={OVER_THE_CELL}
    >
      <Paper style={{ minWidth: anchor.offsetWidth }} className={cellEditorCss.paper} elevation={4}>
        {query.isError && <p className={textCss.problem}>{query.error.message}</p>}
        {opened && <RowEditor key={record} {...props} opened={opened} />}
      </Paper>
    </Popper>
  );
}

const OVER_THE_CELL = [
  { name: 'offset', options: { offset: ({ reference }: { reference: { height: number } }) => [0, -reference.height] } },
];

/** The running form of one row, of which one field is shown at a time. */
function RowEditor({
  table,
  field,
  typed,
  turn,
  opened,
  onSaved,
  onStep,
}: CellEditorProps & { readonly opened: PlacedRecord }) {
  const { session } = useOffice();
  const form = useTableForm(table);
  const base = `/api/tables/${table.id}`;
  const opening = useMemo(
    (): Opening => ({ account: session.login, now: civilNow(), record: opened }),
    [session.login, opened],
  );
  const then = useRef<EditStep>('nowhere');
  const entry = useEntry({
    form,
    opening,
    base,
    onSaved: ({ record: saved }: EntryAnswer) => {
      if (saved) onSaved(stepOf(saved, opened.values, form), saved.version);
      onStep(then.current);
    },
  });
  /** Leaves the input, so that what was typed takes effect on other fields, and then goes on. */
  const leaveInput = (next: () => void): void => {
    (document.activeElement as HTMLElement | null)?.blur();
    requestAnimationFrame(next);
  };
  /** Leaves the row, which is saved where something in it has changed. */
  const leave = (step: EditStep): void => {
    then.current = step;
    leaveInput(() => {
      if (hasUnsavedWork(latest.current)) latest.current.dispatch({ type: 'savePressed' });
      else onStep(step);
    });
  };
  const latest = useRef(entry);
  latest.current = entry;
  const leaveDown = useRef(() => leave('down'));
  leaveDown.current = () => leave('down');
  const box = useRef<HTMLDivElement>(null);
  // biome-ignore lint/correctness/useExhaustiveDependencies: a move that stays at its cell changes the turn only
  useEffect(() => {
    focusField(PREFIX + field);
    const input = box.current?.querySelector<HTMLInputElement | HTMLTextAreaElement>('input, textarea');
    if (typed !== undefined && input) typeInto(input, typed.split('\n')[0] ?? '');
    else input?.select?.();
    // Enter was pressed before the input was there.
    if (typed?.includes('\n')) leaveDown.current();
  }, [field, typed, turn]);
  const onKeyDown = (event: KeyboardEvent): void => {
    // Keys of the input are not keys of the grid, whose child it is.
    event.stopPropagation();
    if (event.defaultPrevented) return;
    if (event.key === 'Escape') onStep('nowhere');
    else if (event.key === 'Enter' && !event.shiftKey) leave('down');
    else if (event.key === 'Tab') {
      const step = event.shiftKey ? 'previous' : 'next';
      leaveInput(() => onStep(step));
    } else return;
    event.preventDefault();
  };
  const others = visibleProblems(entry.state).filter((one) => one.path !== field && !one.asks);
  return (
    <PlaceContext.Provider value={PREFIX}>
      <ClickAwayListener onClickAway={() => leave('nowhere')}>
        <div ref={box} role="presentation" onKeyDown={onKeyDown}>
          <OneField entry={entry} id={field} />
          {others.map((problem) => (
            <p key={`${problem.path} ${problem.rule}`} className={textCss.problem} role="alert">
              {placeName(entry.state, problem.path)}: {problem.message}
            </p>
          ))}
          <ReasonList entry={entry} />
          {entry.trouble && (
            <p className={textCss.problem} role="alert">
              {entry.trouble}
            </p>
          )}
          <p className={cellEditorCss.keys}>{say('Enter saves · Tab goes on in the row · Esc leaves it as it was')}</p>
        </div>
      </ClickAwayListener>
    </PlaceContext.Provider>
  );
}

/** Puts text into an input as if it had been typed there. */
function typeInto(input: HTMLInputElement | HTMLTextAreaElement, text: string): void {
  const of = input instanceof HTMLInputElement ? HTMLInputElement.prototype : HTMLTextAreaElement.prototype;
  Object.getOwnPropertyDescriptor(of, 'value')?.set?.call(input, text);
  input.dispatchEvent(new Event('input', { bubbles: true }));
}

/** What a save changed of the fields that people write. */
function stepOf({ id: record, values: after }: RecordView, before: Values, form: PreparedForm): RowStep {
  const changed = [...form.fields.values()].filter(
    ({ id, readOnly }) => !readOnly && !sameValue(after[id] ?? null, before[id] ?? null),
  );
  const of = (values: Values): Values => Object.fromEntries(changed.map(({ id }) => [id, values[id] ?? null]));
  return { record, before: of(before), after: of(after) };
}
