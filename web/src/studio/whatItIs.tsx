import { fieldType } from '@fiche/core/fields';
import { isField, itemKey, type PlacedField } from '@fiche/core/forms';
import { type Initial, isGiven, targetTable, typeOf } from '@fiche/core/tables';
import type { Phrase, Slot } from '../parts/index.ts';
import { aroundOf, ExpressionEditor } from '../sentences/index.ts';
import { addItem, freshItemId } from './edit.ts';
import type { SlipProps } from './Slip.tsx';

type Set = (change: Partial<PlacedField>) => void;

/** “A dropdown, filled in here, required, labelled …”: what a field of the form is. */
export function whatItIs(props: SlipProps, one: PlacedField, set: Set): Phrase {
  const { field } = props;
  const help: Slot = {
    key: 'help',
    label: 'help text',
    shown: field.help || 'no help text',
    quiet: field.help === '',
    pick: { kind: 'text', current: one.help ?? field.field.help },
    onSet: (text) => set({ help: text.trim() === field.field.help ? null : text.trim() }),
  };
  const label: Slot = {
    key: 'label',
    label: 'label on this form',
    shown: field.label,
    pick: {
      kind: 'text',
      current: one.label ?? field.field.label,
      hint: `Empty takes the table’s label, ${field.field.label}.`,
    },
    onSet: (text) => set({ label: text.trim() === '' || text.trim() === field.field.label ? null : text.trim() }),
  };
  if (field.field.type === 'sequence') return ['A number given on save, labelled ', label, ', with ', help, '.'];
  if (field.field.calculation !== null)
    return [`Calculated by its table as ${field.field.calculation}, labelled `, label, ', with ', help, '.'];
  const kind = field.source ? 'A dropdown' : `A ${typeOf(field.field).word}`;
  const calculated = one.calculation !== null;
  return [
    `${kind}, `,
    calculated ? calculationSlot(props, one, set) : writtenSlot(props, one, set),
    ...(calculated ? [] : [', ', requiredSlot(props, set), ', beginning with ', initialSlot(props, one, set)]),
    ', labelled ',
    label,
    ', with ',
    help,
    ...cardPhrase(props),
    '.',
  ];
}

function writtenSlot({ field }: SlipProps, one: PlacedField, set: Set): Slot {
  const canCalculate = !['link', 'links', 'choices'].includes(typeOf(field.field).family) && !isGiven(field.field);
  return {
    key: 'readOnly',
    label: 'whether it can be written here',
    shown: one.readOnly ? 'only shown' : 'filled in here',
    pick: {
      kind: 'options',
      current: one.readOnly ? 'yes' : 'no',
      options: [
        { value: 'no', label: 'filled in here' },
        { value: 'yes', label: 'only shown', detail: 'nobody types here' },
        ...(canCalculate ? [{ value: 'calculate', label: 'calculated', detail: 'from other fields' }] : []),
      ],
    },
    onSet: (value) =>
      value === 'calculate'
        ? set({ calculation: beginningOf(typeOf(field.field).family), readOnly: false })
        : set({ readOnly: value === 'yes' }),
  };
}

/** A calculation of the right kind to begin with. */
const beginningOf = (family: string): string =>
  ({ number: '0', yesNo: 'false', date: 'today()', dateTime: 'now()' })[family] ?? '""';

function editorSlot(
  { field, prepared, live }: SlipProps,
  key: string,
  label: string,
  current: string,
  onSet: (source: string) => void,
): Slot {
  const fields = [...prepared.fields.values()]
    .filter((other) => other.id !== field.id)
    .map((other) => ({ ...other.field, label: other.label }));
  return {
    key,
    label,
    shown: current,
    pick: {
      kind: 'editor',
      edit: (done) => (
        <ExpressionEditor
          label={label}
          current={current}
          fields={fields}
          tables={prepared.tables}
          lines={aroundOf(prepared).lines}
          into={field.field}
          valueAt={live?.valueAt}
          now={live?.now ?? ''}
          onSet={onSet}
          onClose={done}
        />
      ),
    },
    onSet: () => undefined,
  };
}

function calculationSlot(props: SlipProps, one: PlacedField, set: Set): Slot {
  const slot = editorSlot(props, 'calculation', 'its calculation', one.calculation ?? '', (calculation) =>
    set({ calculation }),
  );
  return { ...slot, shown: `calculated as ${one.calculation}` };
}

function requiredSlot({ field }: SlipProps, set: Set): Slot {
  return {
    key: 'required',
    label: 'whether it is required',
    shown: field.required ? 'required' : 'not required',
    quiet: !field.required,
    pick: {
      kind: 'options',
      current: field.required ? 'yes' : 'no',
      options: field.field.required
        ? [{ value: 'yes', label: 'required', detail: 'by the table' }]
        : [
            { value: 'yes', label: 'required' },
            { value: 'no', label: 'not required' },
          ],
    },
    onSet: (value) => set({ required: value === 'yes' }),
  };
}

const MOMENTS: Readonly<Record<string, { types: readonly string[]; words: string }>> = {
  today: { types: ['date', 'dateTime'], words: 'today' },
  now: { types: ['date', 'time', 'dateTime'], words: 'the present moment' },
  account: { types: ['text'], words: 'the account' },
};

/** The default of the field on this form: a value, a moment, a calculation, or what the table says. */
function initialSlot(props: SlipProps, one: PlacedField, set: Set): Slot {
  const { field } = props;
  const { initial } = field;
  const type = fieldType(field.field.type);
  if (initial?.kind === 'calculation')
    return editorSlot(props, 'initial', 'the calculation that it begins with', initial.source, (source) =>
      set({ initial: { kind: 'calculation', source } }),
    );
  const shown =
    initial === null || (initial.kind === 'value' && initial.value === null)
      ? 'nothing'
      : initial.kind === 'value'
        ? targetTable(field.field) !== undefined
          ? 'a chosen record'
          : type.format(initial.value, field.field.settings)
        : (MOMENTS[initial.kind]?.words ?? '');
  const own = field.field.settings.choices as string[] | undefined;
  const words = field.field.type === 'yesNo' ? [true, false] : field.field.type === 'choice' ? (own ?? []) : [];
  const key = (value: Initial | null): string => JSON.stringify(value);
  const valueOption = (value: string | number | boolean) => ({
    value: key({ kind: 'value', value }),
    label: type.format(value, field.field.settings),
    detail: 'a value',
  });
  const canCalculate = !['link', 'links', 'choices'].includes(type.family) && type.editable;
  return {
    key: 'initial',
    label: 'what a new record begins with',
    shown,
    quiet: shown === 'nothing',
    pick: {
      kind: 'options',
      current: key(one.initial),
      options: [
        ...words.map(valueOption),
        ...Object.entries(MOMENTS)
          .filter(([, moment]) => moment.types.includes(field.field.type))
          .map(([kind, moment]) => ({ value: key({ kind: kind as 'today' }), label: moment.words })),
        ...(canCalculate
          ? [
              {
                value: key({ kind: 'calculation', source: beginningOf(type.family) }),
                label: 'a calculation…',
                detail: 'until somebody types',
              },
            ]
          : []),
        { value: key({ kind: 'value', value: null }), label: 'nothing' },
        { value: key(null), label: 'what the table says' },
      ],
      typed: (text) => {
        if (text === '' || !type.editable || ['link', 'links', 'choices', 'yesNo'].includes(type.family)) return [];
        const read = type.parse(text, field.field.settings);
        return read.ok && read.value !== null && typeof read.value !== 'object' && !own
          ? [valueOption(read.value)]
          : [];
      },
    },
    onSet: (value) => set({ initial: JSON.parse(value) as Initial | null }),
  };
}

/** A link can show its record’s reference card. */
function cardPhrase({ definition, field, onChange }: SlipProps): Phrase {
  if (field.field.type !== 'link') return [];
  const card = definition.sections
    .flatMap((section) => section.items)
    .find((item) => !isField(item) && item.kind === 'card' && item.of === field.id);
  return [
    ', ',
    {
      key: 'card',
      label: 'whether the record’s reference card stands below',
      shown: card ? 'with its reference card' : 'without a reference card',
      quiet: !card,
      pick: {
        kind: 'options',
        current: card ? 'yes' : 'no',
        options: [
          { value: 'yes', label: 'with its reference card', detail: 'always current' },
          { value: 'no', label: 'without a reference card' },
        ],
      },
      onSet: (value) => {
        if (value === 'yes' && !card)
          onChange(addItem(definition, { kind: 'card', id: freshItemId(definition, 'card'), of: field.id }, field.id));
        if (value === 'no' && card)
          onChange({
            ...definition,
            sections: definition.sections.map((section) => ({
              ...section,
              items: section.items.filter((item) => itemKey(item) !== itemKey(card)),
            })),
          });
      },
    },
  ];
}
