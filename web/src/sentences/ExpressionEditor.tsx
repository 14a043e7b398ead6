import { acceptLabels, FUNCTION_HELP, giveResult, readExpression, resultMisfit } from '@fiche/core/expressions';
import { isBlank, type Value } from '@fiche/core/fields';
import { say } from '@fiche/core/languages';
import { type FieldDefinition, linkedTable, type Tables, typeOf } from '@fiche/core/tables';
import Button from '@mui/material/Button';
import { clsx } from 'clsx';
import { lazy, Suspense, useId, useState } from 'react';
import { pickerCss, textCss } from '../parts/index.ts';
import expressionCss from './expression.module.css';
import type { Around } from './sides.ts';

const FormulaInput = lazy(() => import('./FormulaInput.tsx'));

export interface ExpressionEditorProps {
  readonly label: string;
  readonly current: string;
  readonly fields: readonly FieldDefinition[];
  readonly tables: Tables;
  /** The lines of the form: their columns are lists. */
  readonly lines?: Around['lines'];
  /** The field that keeps the result; without one, the formula has to give yes or no. */
  readonly into?: FieldDefinition;
  /** The value of a path on the card that is tried now. */
  valueAt?(path: string): Value;
  /** The civil moment that `today()` means on that card. */
  readonly now: string;
  onSet(source: string): void;
  onClose(): void;
}

/**
 * Writes a formula (CEL, the Common Expression Language): names are completed, labels are accepted as names, mistakes are
 * underlined and said in words, and its value on the open card is shown.
 */
export function ExpressionEditor(props: ExpressionEditorProps) {
  const { label, current, fields, tables, lines = [], into, valueAt, now, onSet, onClose } = props;
  const [typed, setTyped] = useState(current);
  const about = useId();
  const columns = [...tables.values()].flatMap((table) => table.fields);
  const written = (text: string): string => acceptLabels(text, [...fields, ...lines], columns);
  const judged = (text: string) => {
    const source = written(text).trim();
    const read = source === '' ? undefined : readExpression(source, fields, tables, lines);
    const misfit = read && 'expression' in read ? resultWords(read.expression.result, into) : undefined;
    return { source, read, misfit, sound: read !== undefined && 'expression' in read && misfit === undefined };
  };
  const { source, read, misfit, sound } = judged(typed);
  /** Takes what stands in the editor, which may have been typed a moment before it is shown here. */
  const keep = (text: string): void => {
    const taken = judged(text);
    if (!taken.sound) return;
    onSet(taken.source);
    onClose();
  };
  return (
    <div className={clsx(pickerCss.picker, expressionCss.expression)} aria-describedby={about}>
      <Suspense fallback={<p className={pickerCss.hint}>{say('Opening the editor…')}</p>}>
        <FormulaInput
          label={label}
          source={typed}
          placeholder={exampleFor(fields, into)}
          complete={(text, at) => completionsAt(text, at, fields, tables, lines)}
          misfit={(text) => {
            const one = text.trim() === '' ? undefined : readExpression(written(text), fields, tables, lines);
            if (!one || !('wrong' in one)) return undefined;
            const from = Math.min(one.at.start, Math.max(0, text.length - 1));
            return { message: one.wrong, from, to: Math.min(text.length, Math.max(one.at.end, from + 1)) };
          }}
          onChange={setTyped}
          onDone={keep}
        />
      </Suspense>
      <div id={about} aria-live="polite">
        {read && 'wrong' in read && <p className={clsx(textCss.problem, pickerCss.hint)}>{read.wrong}</p>}
        {misfit && <p className={clsx(textCss.problem, pickerCss.hint)}>{misfit}</p>}
        {sound && source !== typed.trim() && (
          <p className={pickerCss.hint}>
            {say('Kept as')} <span className={textCss.mono}>{source}</span>
          </p>
        )}
        {read && 'expression' in read && valueAt && (
          <p className={pickerCss.hint}>
            {say('On this card: {valueAt}', { valueAt: shown(read.expression.evaluate(valueAt, now), into) })}
          </p>
        )}
      </div>
      <div className={clsx(pickerCss.hint, expressionCss.acts)}>
        <Button disabled={!sound} onClick={() => keep(typed)}>
          {say('Apply')}
        </Button>
        <span>{say('Enter applies it, Esc leaves it as it was.')}</span>
      </div>
    </div>
  );
}

const resultWords = (
  result: Parameters<typeof resultMisfit>[0],
  into: FieldDefinition | undefined,
): string | undefined =>
  into
    ? resultMisfit(result, into)
    : result === 'yesNo'
      ? undefined
      : say('A rule has to give yes or no: compare something.');

/** An example out of the fields at hand, for an empty box. */
function exampleFor(fields: readonly FieldDefinition[], into: FieldDefinition | undefined): string {
  const [first, second] = fields.filter((field) => typeOf(field).family === 'number');
  if (into && first && second) return say('such as {id} * {second}', { id: first.id, second: second.id });
  const [date] = fields.filter((field) => ['date', 'dateTime'].includes(typeOf(field).family));
  if (!into && first) return say('such as {id} > 0', { id: first.id });
  if (!into && date) return say('such as {id} >= today()', { id: date.id });
  const [text] = fields.filter((field) => typeOf(field).family === 'text');
  return text ? say('such as {id}{into}', { id: text.id, into: into ? ' + "!"' : ' != ""' }) : say('such as 1 + 1');
}

function shown(value: Value, into: FieldDefinition | undefined): string {
  if (isBlank(value)) return say('blank, because a field that it reads is blank');
  if (!into) return value === true ? say('yes, the record passes') : say('no, the record breaks the rule');
  const given = giveResult(value, into);
  return isBlank(given) ? say('nothing that this field can hold') : typeOf(into).format(given, into.settings);
}

interface NamedPlace {
  readonly label: string;
  readonly detail: string;
  readonly apply: string;
}

/** The longest end of a text that is the beginning of a label of several words, in small letters. */
function labelBefore(text: string, among: readonly FieldDefinition[]): string | undefined {
  const lower = text.toLowerCase();
  const starts = [...lower.matchAll(/(?<![\p{L}\p{N}_])[\p{L}_]/gu)].map((one) => one.index);
  const ends = starts.map((start) => lower.slice(start)).filter((end) => end.includes(' '));
  return ends.find((end) => among.some((field) => field.label.toLowerCase().startsWith(end)));
}

/** What can stand at a place: fields, columns of a linked table after a dot, functions. At most 8. */
function completionsAt(
  source: string,
  place: number,
  fields: readonly FieldDefinition[],
  tables: Tables,
  lines: NonNullable<Around['lines']>,
): { from: number; options: NamedPlace[] } {
  const word = /[\p{L}_][\p{L}\p{N}_.]*$/u.exec(source.slice(0, place))?.[0] ?? '';
  const steps = word.split('.');
  if (word === '') return { from: place, options: [] };
  let among: readonly FieldDefinition[] = fields;
  for (const step of steps.slice(0, -1)) {
    const ofLines = among === fields ? lines.find((one) => one.id === step) : undefined;
    const link = among.find((field) => field.id === step);
    among = ofLines?.fields ?? tables.get(linkedTable(link) ?? '')?.fields ?? [];
  }
  // A label of several words counts as a whole: “Deepest draught” is not completed as “Deepest deepest_draught”.
  const labelled = labelBefore(source.slice(0, place), among);
  const last = labelled ?? (steps.at(-1) ?? '').toLowerCase();
  const from = place - last.length;
  const matches = (name: string): boolean => name.toLowerCase().includes(last);
  const top = steps.length === 1;
  const options = [
    ...among
      .filter((field) => matches(field.id) || matches(field.label))
      .map((field) => ({ apply: field.id, label: field.label, detail: say(typeOf(field).word) })),
    ...(top ? lines : [])
      .filter((one) => matches(one.id) || matches(one.label))
      .map((one) => ({ apply: one.id, label: one.label, detail: say('lines') })),
    ...(top ? FUNCTION_HELP : [])
      .filter((one) => matches(one.name))
      .map((one) => ({ apply: `${one.name}(`, label: one.call, detail: say(one.about) })),
  ];
  return { from, options: options.slice(0, 8) };
}
