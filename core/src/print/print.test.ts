import { describe, expect, test } from 'vitest';
import { all, is } from '../conditions/index.ts';
import { opening } from '../entry/fixtures/desk.ts';
import { form, records, tables } from '../entry/fixtures/harbour.ts';
import { openServices } from '../entry/fixtures/lines.ts';
import { openEntry } from '../entry/index.ts';
import { isField, type PreparedForm, prepareForm } from '../forms/index.ts';
import type { Tables } from '../tables/index.ts';
import { PAPERS, POINTS_A_MM, type PrintedBlock, paperOf, printedSections } from './index.ts';

const vessel = {
  title: 'Kittiwake Rose',
  facts: { name: 'Kittiwake Rose', length: 11.2, 'owner.name': 'Perrin Syndicate' },
};
const withCard: Tables = new Map(
  [...tables].map(([id, one]) => [id, id === 'vessels' ? { ...one, card: ['length', 'owner'] } : one]),
);
/** The form of stays with lines, a heading, a note that is shown for late ones, and the reference card of the vessel. */
function prepared(): PreparedForm {
  const { definition } = openServices();
  return prepareForm(
    {
      ...definition,
      sections: definition.sections.map((section) => ({
        ...section,
        label: 'Stay',
        items: [
          { kind: 'heading', id: 'who', text: 'Who' },
          ...section.items.map((item) =>
            isField(item) && item.field === 'phone'
              ? { ...item, shownWhen: all(is(form('note'), { kind: 'constant', value: 'late' })) }
              : item,
          ),
          { kind: 'card', id: 'vessel_card', of: 'vessel' },
          { kind: 'note', id: 'sign', text: 'Signed by the harbour master.' },
        ],
      })),
    },
    withCard,
  );
}
const values = {
  note: 'berthed',
  harbour: 1,
  vessel: 5,
  length: 11.2,
  phone: '0555 014 220',
  arrival: '2026-08-17T12:00',
};
const lines = {
  used: [
    {
      id: 1,
      version: 1,
      values: { note: 'pump', stay: 9, service: 2, quantity: 1.5, rate: 65, amount: 97.5 },
      linked: { service: { title: 'Crane', facts: {} } },
      origins: {},
    },
  ],
};
const printed = (more: object = {}, withLines: object = lines) => {
  const record = {
    id: 9,
    version: 1,
    values: { ...values, ...more },
    linked: { vessel, harbour: { title: records.harbours?.[1]?.name as string, facts: {} } },
    origins: {},
  };
  return printedSections(
    openEntry(prepared(), { ...opening, record, lines: withLines } as unknown as typeof opening).state,
  );
};
const blocks = (more?: object): readonly PrintedBlock[] => printed(more)[0]?.blocks ?? [];
const value = (label: string, more?: object): string | undefined => {
  const found = blocks(more).find((one) => one.kind === 'field' && one.label === label);
  return found?.kind === 'field' ? found.value : undefined;
};

describe('a printed card', () => {
  test('has its sections and their items in order, values in words', () => {
    expect(printed()).toHaveLength(1);
    expect(printed()[0]?.label).toBe('Stay');
    expect(blocks()[0]).toEqual({ kind: 'heading', text: 'Who' });
    expect(blocks().at(-1)).toEqual({ kind: 'note', text: 'Signed by the harbour master.' });
    expect([value('harbour'), value('length'), value('arrival'), value('berth')]).toEqual([
      'Gannet Quay',
      '97.5',
      '17 Aug 2026, 12:00',
      '',
    ]);
  });

  test('leaves out what is hidden now', () => {
    expect(value('phone')).toBeUndefined();
    expect(value('phone', { note: 'late' })).toBe('0555 014 220');
  });

  test('has its lines as a table, numbers on the right', () => {
    const found = blocks().find((one) => one.kind === 'lines');
    expect(found?.kind === 'lines' && found.columns.filter((one) => one.numeric).map((one) => one.label)).toEqual([
      'quantity',
      'rate',
      'amount',
    ]);
    const [row] = (found?.kind === 'lines' && found.rows) || [];
    expect(row).toEqual(expect.arrayContaining(['pump', 'Crane', '1.50', '65.00', '97.50']));
  });

  test('has the reference card of a link that is chosen, and none of a blank one', () => {
    expect(blocks().find((one) => one.kind === 'card')).toEqual({
      kind: 'card',
      label: 'vessel',
      title: 'Kittiwake Rose',
      facts: [
        { label: 'length', value: '11.2' },
        { label: 'owner', value: 'Perrin Syndicate' },
      ],
    });
    expect(blocks({ vessel: null }).some((one) => one.kind === 'card' && one.title === '')).toBe(false);
  });
});

test('papers have their sizes, and each country its own', () => {
  expect(Math.round(PAPERS.a4.width * POINTS_A_MM)).toBe(595);
  expect(Math.round(PAPERS.letter.height * POINTS_A_MM)).toBe(792);
  expect(['en-GB', 'de-DE', 'en-US', 'fr-CA', 'es-MX', 'fr'].map(paperOf)).toEqual([
    'a4',
    'a4',
    'letter',
    'letter',
    'letter',
    'a4',
  ]);
});
