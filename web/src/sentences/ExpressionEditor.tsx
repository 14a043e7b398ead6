import { FUNCTION_HELP, giveResult, readExpression, resultMisfit } from '@fiche/core/expressions';
import { isBlank, type Value } from '@fiche/core/fields';
import { type FieldDefinition, type Tables, typeOf } from '@fiche/core/tables';
import { type KeyboardEvent, useId, useRef, useState } from 'react';
import { flushSync } from 'react-dom';
import type { Around } from './sides.ts';

export interface ExpressionEditorProps {
  readonly label: string;
  readonly current: string;
  readonly fields: readonly FieldDefinition[];
  readonly tables: Tables;
  /** The lines of the form: their columns are lists. */
  readonly lines?: Around['lines'];
  /** The field that keeps the result; without, the expression has to say yes or no. */
  readonly into?: FieldDefinition;
  /** The value of a path on the card that is tried now. */
  valueAt?(path: string): Value;
  /** The civil moment that `today()` means on that card. */
  readonly now: string;
  onSet(source: string): void;
  onClose(): void;
}

interface Completion {
  readonly insert: string;
  readonly label: string;
  readonly detail: string;
}

/** Writes a CEL expression: completion from the form’s fields, mistakes shown where they are, its value on the card. */
export function ExpressionEditor(props: ExpressionEditorProps) {
  const { label, current, fields, tables, lines = [], into, valueAt, now, onSet, onClose } = props;
  const [source, setSource] = useState(current);
  const [place, setPlace] = useState(current.length);
  const [active, setActive] = useState(0);
  const [open, setOpen] = useState(false);
  const area = useRef<HTMLTextAreaElement>(null);
  const list = useId();
  const found = completionsAt(source, place, fields, tables, lines);
  const read = source.trim() === '' ? undefined : readExpression(source, fields, tables, lines);
  const misfit =
    read && 'expression' in read
      ? into
        ? resultMisfit(read.expression.result, into)
        : read.expression.result === 'yesNo'
          ? undefined
          : 'A rule has to say yes or no: compare something.'
      : undefined;
  const sound = read !== undefined && 'expression' in read && misfit === undefined;
  const take = (one: Completion): void => {
    const begin = wordBefore(source, place).start;
    const next = source.slice(0, begin) + one.insert + source.slice(place);
    const at = begin + one.insert.length;
    // Drawn at once: a key that follows quickly would otherwise be typed before the caret has moved.
    flushSync(() => {
      setSource(next);
      setPlace(at);
      setOpen(false);
    });
    area.current?.focus();
    area.current?.setSelectionRange(at, at);
  };
  const onKeyDown = (event: KeyboardEvent<HTMLTextAreaElement>): void => {
    const listed = open && found.length > 0;
    if (event.key === 'ArrowDown' && listed) setActive(Math.min(active + 1, found.length - 1));
    else if (event.key === 'ArrowUp' && listed) setActive(Math.max(active - 1, 0));
    else if ((event.key === 'Enter' || event.key === 'Tab') && listed)
      take(found[Math.min(active, found.length - 1)] as Completion);
    else if (event.key === 'Escape' && listed) setOpen(false);
    else if (event.key === 'Enter' && !event.shiftKey) {
      if (sound) {
        onSet(source.trim());
        onClose();
      }
    } else return;
    event.preventDefault();
    event.stopPropagation();
  };
  return (
    <div className="picker expression">
      <textarea
        ref={area}
        autoFocus
        rows={3}
        spellCheck={false}
        aria-label={label}
        aria-autocomplete="list"
        aria-controls={open ? list : undefined}
        aria-invalid={read !== undefined && !sound}
        aria-describedby={`${list}-said`}
        value={source}
        onKeyDown={onKeyDown}
        onSelect={(event) => setPlace(event.currentTarget.selectionStart)}
        onChange={(event) => {
          setSource(event.target.value);
          setPlace(event.target.selectionStart);
          setActive(0);
          setOpen(wordBefore(event.target.value, event.target.selectionStart).word !== '');
        }}
      />
      <div id={`${list}-said`} aria-live="polite">
        {read && 'wrong' in read && (
          <>
            <pre className="expression-spot" aria-hidden="true">
              {source.slice(0, read.at.start)}
              <mark>{source.slice(read.at.start, Math.max(read.at.end, read.at.start + 1)) || ' '}</mark>
              {source.slice(Math.max(read.at.end, read.at.start + 1))}
            </pre>
            <p className="ruled-problem picker-hint">{read.wrong}</p>
          </>
        )}
        {misfit && <p className="ruled-problem picker-hint">{misfit}</p>}
        {read && 'expression' in read && valueAt && (
          <p className="picker-hint">On this card: {shown(read.expression.evaluate(valueAt, now), into)}</p>
        )}
      </div>
      {open && found.length > 0 && (
        <ul id={list} role="listbox" aria-label="What can stand here">
          {found.map((one, at) => (
            <li
              key={one.label}
              role="option"
              aria-selected={at === active}
              className={at === active ? 'active' : ''}
              onMouseDown={(event) => {
                event.preventDefault();
                take(one);
              }}
            >
              <span className="mono">{one.label}</span>
              <small>{one.detail}</small>
            </li>
          ))}
        </ul>
      )}
      <div className="picker-hint picker-acts">
        <button
          type="button"
          className="button"
          disabled={!sound}
          onClick={() => {
            onSet(source.trim());
            onClose();
          }}
        >
          Keep it
        </button>
        <span>Enter keeps it, Esc leaves it as it was.</span>
      </div>
    </div>
  );
}

function shown(value: Value, into: FieldDefinition | undefined): string {
  if (isBlank(value)) return 'blank, for something that it reads is blank';
  if (!into) return value === true ? 'yes, it holds' : 'no, it is broken';
  const given = giveResult(value, into);
  return isBlank(given) ? 'nothing that this field can hold' : typeOf(into).format(given, into.settings);
}

const wordBefore = (source: string, place: number): { word: string; start: number } => {
  const word = /[a-zA-Z_][a-zA-Z0-9_.]*$/.exec(source.slice(0, place))?.[0] ?? '';
  return { word, start: place - word.length };
};

/** What can stand at a place: fields, columns behind a link after a dot, functions. */
function completionsAt(
  source: string,
  place: number,
  fields: readonly FieldDefinition[],
  tables: Tables,
  lines: Around['lines'],
): Completion[] {
  const { word } = wordBefore(source, place);
  if (word === '') return [];
  const steps = word.split('.');
  const last = (steps.at(-1) ?? '').toLowerCase();
  let among: readonly FieldDefinition[] = fields;
  for (const step of steps.slice(0, -1)) {
    const ofLines = among === fields ? lines.find((one) => one.id === step) : undefined;
    const link = among.find((field) => field.id === step);
    among = ofLines?.fields ?? tables.get(link?.type === 'link' ? String(link.settings.table) : '')?.fields ?? [];
  }
  const prefix = steps
    .slice(0, -1)
    .map((step) => `${step}.`)
    .join('');
  const matches = (name: string): boolean => name.toLowerCase().includes(last);
  const columns = among
    .filter((field) => matches(field.id) || matches(field.label))
    .map((field) => ({ insert: prefix + field.id, label: field.id, detail: `${field.label}, ${typeOf(field).word}` }));
  const ofForm =
    prefix === ''
      ? lines
          .filter((one) => matches(one.id) || matches(one.label))
          .map((one) => ({ insert: one.id, label: one.id, detail: `the lines of ${one.label}` }))
      : [];
  const functions = prefix === '' ? FUNCTION_HELP.filter((one) => matches(one.name)) : [];
  return [
    ...columns,
    ...ofForm,
    ...functions.map((one) => ({ insert: `${one.name}(`, label: one.call, detail: one.about })),
  ].slice(0, 8);
}
