import type { EntryAnswer, RecordView } from '@fiche/core/api';
import {
  type EntryEvent,
  type EntryState,
  enterUnsaved,
  type Opening,
  readable,
  readOperand,
  showValue,
  splitPath,
} from '@fiche/core/entry';
import { generateForm, type PreparedField, type PreparedForm, prepareForm } from '@fiche/core/forms';
import { say } from '@fiche/core/languages';
import { wantedOf } from '@fiche/core/narrowing';
import { civilNow } from '@fiche/core/office';
import { formForRole } from '@fiche/core/rights';
import { titleFields } from '@fiche/core/tables';
import Button from '@mui/material/Button';
import { clsx } from 'clsx';
import { type KeyboardEvent, useEffect, useMemo, useRef } from 'react';
import { useOffice } from '../client/index.ts';
import {
  EntryFields,
  enterMovesOn,
  focusField,
  PlaceContext,
  ProblemList,
  ReasonList,
  useEntry,
} from '../entry/index.ts';
import { cardCss, isShortcut, Sheet, textCss } from '../parts/index.ts';
import addInPlaceCss from './addInPlace.module.css';
import cardFieldsCss from './cardFields.module.css';

/** Which dropdown a new record is for, and what was typed in it. */
export interface Adding {
  readonly path: string;
  readonly text: string;
}

interface Props extends Adding {
  readonly state: EntryState;
  /** The record is there: what it does to the card that wanted it, and what it is called. */
  onAdded(event: EntryEvent, title: string): void;
  onClose(): void;
}

/** What marks the fields of the small card among those of the page. */
const PREFIX = 'new:';

/** A new record for a dropdown, in a small card of its table beside the card that wants it. */
export function AddInPlace({ state, path, text, onAdded, onClose }: Props) {
  const { cabinet, tables } = useOffice();
  const at = splitPath(path);
  const line = at && state.lines[at.line.subform]?.find((one) => one.key === at.line.key)?.state;
  const asking = line ?? state;
  const field = asking.form.fields.get(at?.path ?? path);
  const table = tables.get(field?.source?.table ?? field?.fill?.table ?? '');
  const form = useMemo(
    () => (table ? prepareForm(formForRole(cabinet.role, generateForm(table), tables), tables) : undefined),
    [cabinet.role, table, tables],
  );
  if (!form || !field) return null;
  const added = (record: RecordView): void => {
    const event: EntryEvent = field.source
      ? { type: 'changed', field: field.id, value: record.id, linked: { title: record.title, facts: {} } }
      : { type: 'lookUpAgain', field: field.id };
    onAdded(at ? { type: 'line', line: at.line, event } : event, record.title);
  };
  return <SmallCard {...{ form, field, asking, text, onClose }} onAdded={added} />;
}

interface SmallCardProps extends Pick<Props, 'text' | 'onClose'> {
  onAdded(record: RecordView): void;
  readonly form: PreparedForm;
  readonly field: PreparedField;
  readonly asking: EntryState;
}

function SmallCard({ form, field, asking, text, onAdded, onClose }: SmallCardProps) {
  const { session } = useOffice();
  const opening = useMemo((): Opening => ({ account: session.login, now: civilNow(), record: null }), [session.login]);
  const done = (answer: EntryAnswer): void => {
    if (answer.record) onAdded(answer.record);
  };
  const entry = useEntry({
    form,
    opening,
    base: `/api/tables/${form.table.id}`,
    onSaved: done,
    start: (opened) => enterUnsaved(opened, { record: null, fields: begins(form, field, asking, text), lines: {} }),
  });
  const box = useRef<HTMLDivElement>(null);
  const save = (): void => {
    (document.activeElement as HTMLElement | null)?.blur();
    entry.dispatch({ type: 'savePressed' });
  };
  // biome-ignore lint/correctness/useExhaustiveDependencies: once, when the card opens.
  useEffect(() => {
    const blank = [...form.fields.values()].find(
      (one) => one.placed && !one.readOnly && showValue(entry.state, one.id) === '',
    );
    if (blank) focusField(PREFIX + blank.id);
  }, []);
  // What is pressed here is for this card, not for the one beside it.
  const onKeyDown = (event: KeyboardEvent): void => {
    if (isShortcut(event, 'save')) save();
    else if (event.key === 'Escape' && !event.defaultPrevented) onClose();
    else {
      if (event.altKey || event.ctrlKey) event.stopPropagation();
      return;
    }
    event.preventDefault();
    event.stopPropagation();
  };
  const title = say('A new one in {label}', { label: form.table.label });
  return (
    <Sheet title={title} onClose={onClose}>
      <div
        data-card
        className={clsx(cardCss.card, addInPlaceCss.card)}
        ref={box}
        onKeyDown={onKeyDown}
        role="group"
        aria-label={title}
      >
        <PlaceContext.Provider value={PREFIX}>
          <ProblemList entry={entry} />
          <div className={cardFieldsCss.fields} onKeyDown={enterMovesOn} role="presentation">
            <EntryFields entry={entry} narrow />
          </div>
          <ReasonList entry={entry} />
          {entry.trouble && (
            <p className={textCss.problem} role="alert">
              {entry.trouble}
            </p>
          )}
          <footer className={cardCss.foot}>
            <Button variant="contained" onClick={save}>
              {say('Save and choose it')}
            </Button>
          </footer>
        </PlaceContext.Provider>
      </div>
    </Sheet>
  );
}

/** What is known of the new record: what narrows the dropdown, and the text typed in it as its title; or the key. */
function begins(form: PreparedForm, field: PreparedField, asking: EntryState, text: string) {
  const entry = readable(asking);
  const { key } = field.source ? { key: null } : (field.fill ?? { key: null });
  const wanted =
    key === null
      ? wantedOf(field.narrowing.where, (operand) => readOperand(entry, operand))
      : { [key]: asking.values[field.id] ?? null };
  const [title] = titleFields(form.table);
  const open = (id: string): boolean => form.fields.get(id)?.readOnly === false;
  return [
    ...Object.entries(wanted)
      .filter(([id]) => open(id))
      .map(([id, value]) => ({ field: id, value })),
    ...(title && text.trim() !== '' && !(title.id in wanted) && open(title.id)
      ? [{ field: title.id, value: null, text: text.trim() }]
      : []),
  ];
}
