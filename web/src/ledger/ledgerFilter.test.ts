import { describe, expect, test } from 'vitest';
import type { CabinetView } from '../client/index.ts';
import { askedWith, EVERYTHING, filterSentence, type LedgerFilter } from './ledgerFilter.ts';

const cabinet = {
  accounts: [{ login: 'quayclerk', displayName: 'Quay clerk' }],
  forms: [{ slug: 'report-a-fault' }, { slug: null }],
  tables: [{ id: 'quay_stays', label: 'Stays', fields: [{ id: 'berth', label: 'Berth' }] }],
} as unknown as CabinetView;
let filter: LedgerFilter;
let said: string[];
const sentence = (now: Partial<LedgerFilter> = {}) => {
  filter = { ...EVERYTHING, ...now };
  said = [];
  return filterSentence(
    cabinet,
    filter,
    (next) => {
      filter = next;
    },
    (words) => said.push(words),
  );
};
const read = (now: Partial<LedgerFilter> = {}) =>
  sentence(now)
    .map((part) => (typeof part === 'string' ? part : part.shown))
    .join('');
const slot = (key: string, now: Partial<LedgerFilter> = {}) => {
  const found = sentence(now).find((part) => typeof part !== 'string' && part.key === key);
  if (!found || typeof found === 'string') throw new Error(key);
  return found;
};

describe('the filter of the ledger', () => {
  test('reads as a sentence', () => {
    expect(read()).toBe(
      'Changes by anyone to everything, with any value, through anything, of any kind, from the beginning to today, at any time, with or without a question, newest first.',
    );
    expect(read({ account: 'quayclerk', table: 'quay_stays', kind: 'erase', from: '2026-08-17' })).toBe(
      'Changes by quayclerk to Stays in any field of any record, with any value, through anything, that erased, from 17 Aug 2026 to today, at any time, with or without a question, newest first.',
    );
  });

  test('another table forgets the field of the one before', () => {
    slot('table', { table: 'quay_stays', field: 'berth' }).onSet('');
    expect(filter).toEqual(EVERYTHING);
  });

  test('days are typed as dates are; what is none is said and changes nothing', () => {
    slot('from').onSet('17 Aug 2026');
    expect(filter.from).toBe('2026-08-17');
    slot('to', { to: '2026-08-18' }).onSet('');
    expect(filter.to).toBe('');
    slot('to').onSet('some day');
    expect(filter).toEqual(EVERYTHING);
    expect(said).toHaveLength(1);
  });

  test('public pages are among those who write', () => {
    const { pick } = slot('account');
    expect(pick.kind === 'options' && pick.options.map((one) => one.value)).toEqual([
      '',
      'quayclerk',
      'page:report-a-fault',
    ]);
  });

  test('asks for nothing that it does not narrow', () => {
    expect(askedWith(EVERYTHING)).toEqual({});
    expect(askedWith({ ...EVERYTHING, kind: 'add' })).toEqual({ kind: 'add' });
  });
});
