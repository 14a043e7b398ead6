import { fieldType, formatDay } from '@fiche/core/fields';
import { say } from '@fiche/core/languages';
import type { FieldId, TableId } from '@fiche/core/tables';
import { type CabinetView, send } from '../client/index.ts';
import type { Phrase, Slot, SlotOption } from '../parts/index.ts';

/** Which lines of the ledger are shown; what is blank does not narrow them. */
export interface LedgerFilter {
  readonly account: string;
  readonly table: TableId;
  /** A field of that table. */
  readonly field: FieldId;
  /** The number of one of its records. */
  readonly record: string;
  /** What stands in a value, before or after. */
  readonly value: string;
  /** The id of the form that it came through. */
  readonly form: string;
  readonly kind: string;
  /** The first and the last day, as `2026-08-17`. */
  readonly from: string;
  readonly to: string;
  /** The time of day. */
  readonly hours: string;
  /** `yes`: only what a rule asked about. */
  readonly asked: string;
}

const EVERY = '';
export const EVERYTHING: LedgerFilter = {
  account: '',
  table: '',
  field: '',
  record: '',
  value: '',
  form: '',
  kind: '',
  from: '',
  to: '',
  hours: '',
  asked: '',
};

const KINDS = [
  { value: EVERY, label: say('of any kind') },
  { value: 'add', label: say('that added') },
  { value: 'change', label: say('that changed') },
  { value: 'archive', label: say('that archived') },
  { value: 'restore', label: say('that restored') },
  { value: 'erase', label: say('that erased') },
];

const HOURS = [
  { value: EVERY, label: say('at any time') },
  { value: 'day', label: say('by day'), detail: say('from 6 to 22 o’clock') },
  { value: 'night', label: say('at night'), detail: say('from 22 to 6 o’clock') },
  { value: 'weekend', label: say('at the weekend'), detail: say('on Saturdays and Sundays') },
];

const ASKED = [
  { value: EVERY, label: say('with or without a question') },
  { value: 'yes', label: say('that a rule asked about'), detail: say('and a reason let through') },
];

/** The filter as the API is asked with it. */
export const askedWith = (filter: LedgerFilter): Record<string, string> =>
  Object.fromEntries(Object.entries(filter).filter(([, value]) => value !== EVERY));

/** The filter that an address asks with. */
export const filterOf = (asked: URLSearchParams): LedgerFilter =>
  Object.fromEntries(Object.keys(EVERYTHING).map((key) => [key, asked.get(key) ?? EVERY])) as unknown as LedgerFilter;

/** What the parts of the filter's sentence are made from. */
interface Filtering {
  readonly cabinet: CabinetView;
  readonly filter: LedgerFilter;
  set(change: Partial<LedgerFilter>): void;
}

/** The filter as one sentence whose slots set it; a day that cannot be read is said through `notify`. */
export function filterSentence(
  cabinet: CabinetView,
  filter: LedgerFilter,
  onSet: (filter: LedgerFilter) => void,
  notify: (words: string) => void,
): Phrase {
  const set = (change: Partial<LedgerFilter>): void => onSet({ ...filter, ...change });
  const filtering: Filtering = { cabinet, filter, set };
  const forms = [
    { value: EVERY, label: say('anything') },
    ...cabinet.forms.map((one) => ({ value: one.id, label: one.label, detail: say('form') })),
  ];
  return [
    `${say('Changes by')} `,
    optionSlot('account', say('account'), peopleOf(cabinet), filter.account, (account) => set({ account })),
    ...placePhrase(filtering),
    `${say(', with')} `,
    {
      key: 'value',
      label: say('text in a value'),
      shown: filter.value === EVERY ? say('any value') : `“${filter.value}”`,
      quiet: filter.value === EVERY,
      pick: {
        kind: 'text',
        current: filter.value,
        hint: say('Letters that stand in a value before or after, a number, or a day; empty for any.'),
      },
      onSet: (value) => set({ value: value.trim() }),
    },
    `${say(', through')} `,
    quietSlot(filtering, 'form', say('form'), forms),
    ', ',
    quietSlot(filtering, 'kind', say('kind of change'), KINDS),
    `${say(', from')} `,
    daySlot('from', say('first day'), say('the beginning'), filter.from, (from) => set({ from }), notify),
    ` ${say('to')} `,
    daySlot('to', say('last day'), say('today'), filter.to, (to) => set({ to }), notify),
    ', ',
    quietSlot(filtering, 'hours', say('time of day'), HOURS),
    ', ',
    quietSlot(filtering, 'asked', say('whether a rule asked'), ASKED),
    say(', newest first.'),
  ];
}

/** A slot that is drawn quietly while it lets everything through. */
const quietSlot = (
  { filter, set }: Filtering,
  key: keyof LedgerFilter,
  label: string,
  options: readonly SlotOption[],
) => ({
  ...optionSlot(key, label, options, filter[key], (value) => set({ [key]: value })),
  quiet: filter[key] === EVERY,
});

/** Who may have changed something: accounts, and public pages. */
const peopleOf = (cabinet: CabinetView): SlotOption[] => [
  { value: EVERY, label: say('anyone') },
  ...cabinet.accounts.map((one) => ({ value: one.login, label: one.login, detail: one.displayName })),
  ...cabinet.forms.flatMap(({ slug }) =>
    slug ? [{ value: `page:${slug}`, label: `page:${slug}`, detail: say('public page') }] : [],
  ),
];

/** To what: everything, or a table, with a field and a record of it. */
function placePhrase(filtering: Filtering): Phrase {
  const { cabinet, filter, set } = filtering;
  const table = cabinet.tables.find((one) => one.id === filter.table);
  const places = [
    { value: EVERY, label: say('everything') },
    ...cabinet.tables.map((one) => ({ value: one.id, label: one.label })),
  ];
  const place: Phrase = [
    ` ${say('to')} `,
    {
      ...optionSlot('table', say('table'), places, filter.table, (chosen) =>
        set({ table: chosen, field: EVERY, record: EVERY }),
      ),
      side: 'choices',
    },
  ];
  if (!table) return place;
  const fields = [
    { value: EVERY, label: say('any field') },
    ...table.fields.map((one) => ({ value: one.id, label: one.label })),
  ];
  return [
    ...place,
    ` ${say('in')} `,
    { ...quietSlot(filtering, 'field', say('field'), fields), side: 'choices' },
    ` ${say('of')} `,
    {
      key: 'record',
      label: say('record'),
      shown: filter.record === EVERY ? say('any record') : say('record no. {record}', { record: filter.record }),
      quiet: filter.record === EVERY,
      side: 'choices',
      pick: {
        kind: 'options',
        current: filter.record,
        options: [{ value: EVERY, label: say('any record') }],
        typed: findRecords(table.id),
      },
      onSet: (record) => set({ record }),
    },
  ];
}

/** Finds records of a table by words, the newest first. */
const findRecords =
  (table: TableId) =>
  async (search: string): Promise<SlotOption[]> => {
    const { records } = await send<{ records: { id: number; title: string }[] }>(
      'GET',
      `/api/tables/${table}/records?limit=12&direction=down&search=${encodeURIComponent(search)}`,
    );
    return records.map((one) => ({ value: String(one.id), label: one.title, detail: say('no. {id}', { id: one.id }) }));
  };

const optionSlot = (
  key: string,
  label: string,
  options: readonly SlotOption[],
  current: string,
  onSet: (value: string) => void,
): Slot => ({
  key,
  label,
  shown: options.find((one) => one.value === current)?.label ?? '',
  pick: { kind: 'options', options, current },
  onSet,
});

/** A day in the filter's sentence, typed as dates are typed everywhere. */
const daySlot = (
  key: string,
  label: string,
  none: string,
  day: string,
  onSet: (day: string) => void,
  notify: (words: string) => void,
): Slot => ({
  key,
  label,
  shown: day === EVERY ? none : formatDay(day),
  quiet: day === EVERY,
  pick: {
    kind: 'text',
    current: day === EVERY ? '' : formatDay(day),
    hint: say('A day such as 17 Aug 2026; empty for {none}.', { none }),
  },
  onSet: (text) => {
    const read = fieldType('date').parse(text, {});
    if (read.ok) onSet(read.value === null ? EVERY : String(read.value));
    else notify(read.message);
  },
});
