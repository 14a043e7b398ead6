import { fieldType, formatDay } from '@fiche/core/fields';
import type { FieldId, TableId } from '@fiche/core/tables';
import type { CabinetView } from '../client/index.ts';
import type { Phrase, Slot, SlotOption } from '../parts/index.ts';

/** Which lines of the ledger are shown; what is blank does not narrow them. */
export interface LedgerFilter {
  readonly account: string;
  readonly table: TableId;
  /** A field of that table. */
  readonly field: FieldId;
  readonly kind: string;
  /** The first and the last day, as `2026-08-17`. */
  readonly from: string;
  readonly to: string;
}

const EVERY = '';
export const EVERYTHING: LedgerFilter = { account: '', table: '', field: '', kind: '', from: '', to: '' };

const KINDS = [
  { value: EVERY, label: 'of any kind' },
  { value: 'add', label: 'that added' },
  { value: 'change', label: 'that changed' },
  { value: 'archive', label: 'that archived' },
  { value: 'restore', label: 'that restored' },
  { value: 'erase', label: 'that erased' },
];

/** The filter as the API is asked with it. */
export const askedWith = (filter: LedgerFilter): Record<string, string> =>
  Object.fromEntries(Object.entries(filter).filter(([, value]) => value !== EVERY));

/** The filter that an address asks with. */
export const filterOf = (asked: URLSearchParams): LedgerFilter =>
  Object.fromEntries(Object.keys(EVERYTHING).map((key) => [key, asked.get(key) ?? EVERY])) as unknown as LedgerFilter;

/** The filter as one sentence whose slots set it; a day that cannot be read is said through `notify`. */
export function filterSentence(
  cabinet: CabinetView,
  filter: LedgerFilter,
  onSet: (filter: LedgerFilter) => void,
  notify: (words: string) => void,
): Phrase {
  const set = (change: Partial<LedgerFilter>): void => onSet({ ...filter, ...change });
  const table = cabinet.tables.find((one) => one.id === filter.table);
  const people = [
    { value: EVERY, label: 'anyone' },
    ...cabinet.accounts.map((one) => ({ value: one.login, label: one.login, detail: one.displayName })),
    ...cabinet.forms.flatMap(({ slug }) =>
      slug ? [{ value: `page:${slug}`, label: `page:${slug}`, detail: 'public page' }] : [],
    ),
  ];
  const places = [
    { value: EVERY, label: 'everything' },
    ...cabinet.tables.map((one) => ({ value: one.id, label: one.label })),
  ];
  const fields = [
    { value: EVERY, label: 'any field' },
    ...(table?.fields ?? []).map((one) => ({ value: one.id, label: one.label })),
  ];
  return [
    'Changes by ',
    optionSlot('account', 'account', people, filter.account, (account) => set({ account })),
    ' to ',
    {
      ...optionSlot('table', 'table', places, filter.table, (chosen) => set({ table: chosen, field: EVERY })),
      side: 'choices',
    },
    ...(table
      ? [
          ' in ',
          {
            ...optionSlot('field', 'field', fields, filter.field, (field) => set({ field })),
            side: 'choices' as const,
            quiet: filter.field === EVERY,
          },
        ]
      : []),
    ', ',
    {
      ...optionSlot('kind', 'kind of change', KINDS, filter.kind, (kind) => set({ kind })),
      quiet: filter.kind === EVERY,
    },
    ', from ',
    daySlot('from', 'first day', 'the beginning', filter.from, (from) => set({ from }), notify),
    ' to ',
    daySlot('to', 'last day', 'today', filter.to, (to) => set({ to }), notify),
    ', newest first.',
  ];
}

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
    hint: `A day such as 17 Aug 2026; empty for ${none}.`,
  },
  onSet: (text) => {
    const read = fieldType('date').parse(text, {});
    if (read.ok) onSet(read.value === null ? EVERY : String(read.value));
    else notify(read.message);
  },
});
