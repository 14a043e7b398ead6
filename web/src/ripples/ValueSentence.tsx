import { isBlank } from '@fiche/core/fields';
import { say } from '@fiche/core/languages';
import { eventTable, sourceMisfit, sourceWords } from '@fiche/core/ripples';
import { findField, type RippleSource, type RippleValue, type TableDefinition, targetTable } from '@fiche/core/tables';
import { useOffice } from '../client/index.ts';
import { RemoveSentence, Sentence, type Slot, type SlotOption } from '../parts/index.ts';
import { constantsFor, ExpressionEditor, sidesOf } from '../sentences/index.ts';

interface ValueSentenceProps {
  readonly value: RippleValue;
  /** The table of the saved record, and the one that is written to. */
  readonly table: TableDefinition;
  readonly target: TableDefinition;
  readonly now: string;
  readonly titles: ReadonlyMap<string, string>;
  onChange(value: RippleValue): void;
  onRemove(): void;
}

const SPECIAL: readonly { readonly from: RippleSource; readonly label: string; readonly detail: string }[] = [
  { from: { kind: 'record' }, label: say('this record'), detail: say('the one that is saved') },
  { from: { kind: 'account' }, label: say('who saved'), detail: say('the account') },
  { from: { kind: 'now' }, label: say('when it was saved'), detail: say('the day, or the moment') },
  { from: { kind: 'summary' }, label: say('what changed, in words'), detail: say('such as Waived: no → yes') },
];

const FORMULA = 'formula';
const keyOf = (from: RippleSource): string => JSON.stringify(from);

/** `Reason = Reason before`: one field that a ripple writes, and where its value comes from. */
export function ValueSentence({ value, table, target, now, titles, onChange, onRemove }: ValueSentenceProps) {
  const { tables } = useOffice();
  const { to, from } = value;
  const field = findField(target, to);
  const set = (next: RippleSource): void => onChange({ to, from: next });
  const fits = (one: RippleSource): boolean => sourceMisfit({ to, from: one }, table, target, tables) === undefined;
  const event = eventTable(table);
  const options: SlotOption[] = [
    ...SPECIAL.filter((one) => fits(one.from)).map(({ from: one, label, detail }) => ({
      value: keyOf(one),
      label,
      detail,
    })),
    ...sidesOf(tables, event.fields, 'form', say('of {label}', { label: table.label })).flatMap(
      (side): SlotOption[] => {
        const one: RippleSource = { kind: 'field', path: 'path' in side.operand ? side.operand.path : '' };
        return fits(one) ? [{ value: keyOf(one), label: side.label, detail: side.detail }] : [];
      },
    ),
    ...(field?.required
      ? []
      : [{ value: keyOf({ kind: 'value', value: null }), label: say('nothing'), detail: say('it stays blank') }]),
    { value: FORMULA, label: say('a formula…'), detail: say('over the fields before and after') },
  ];
  const constants = field ? constantsFor(tables, field) : undefined;
  const named =
    from.kind === 'value' && field && !isBlank(from.value)
      ? titles.get(`${targetTable(field)} ${from.value}`)
      : undefined;
  const shown = named ?? sourceWords(from, to, table, target, tables);
  const label = say('what {label} gets', { label: field?.label ?? to });
  const slot: Slot =
    from.kind === 'calculation'
      ? {
          key: 'formula',
          label,
          shown: from.source === '' ? 'a formula…' : from.source,
          open: from.source === '',
          pick: {
            kind: 'editor',
            edit: (done) => (
              <ExpressionEditor
                label={say('Formula for {label}', { label: field?.label ?? to })}
                current={from.source}
                fields={event.fields}
                tables={tables}
                into={field}
                now={now}
                onSet={(source) => set({ kind: 'calculation', source })}
                onClose={done}
              />
            ),
          },
          onSet: () => undefined,
        }
      : {
          key: 'from',
          label,
          shown,
          pick: {
            kind: 'options',
            current: keyOf(from),
            options: [...options.slice(0, -1), ...(constants?.options ?? []), ...options.slice(-1)],
            typed: constants ? constants.typed : undefined,
          },
          onSet: (picked) => set(picked === FORMULA ? { kind: 'calculation', source: '' } : readPicked(picked)),
        };
  return (
    <Sentence
      indent={1}
      parts={[`${field?.label ?? to} = `, slot]}
      end={<RemoveSentence what={`${field?.label ?? to}`} onRemove={onRemove} />}
    />
  );
}

/** What was picked: a source, or a constant as conditions know it. */
function readPicked(picked: string): RippleSource {
  const read = JSON.parse(picked) as
    | RippleSource
    | { readonly kind: 'constant'; readonly value: string | number | boolean };
  return read.kind === 'constant' ? { kind: 'value', value: read.value } : read;
}
