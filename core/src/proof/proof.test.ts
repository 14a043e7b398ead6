import { describe, expect, test } from 'vitest';
import { all, type Condition, is } from '../conditions/index.ts';
import { column, form, tables as harbour, tableOf } from '../entry/fixtures/harbour.ts';
import { type DefinedForm, generateForm, isField, type PlacedField } from '../forms/index.ts';
import type { PublicPage } from '../pages/index.ts';
import type { Rule } from '../rules/index.ts';
import type { TableDefinition, Tables } from '../tables/index.ts';
import { confirmDisclosures, prove } from './index.ts';

const base = (id: string): TableDefinition => harbour.get(id) as TableDefinition;
const repairs = tableOf('repairs', {
  note: ['text'],
  system: ['choice', { level: { table: 'faults', column: 'system' } }],
  part: ['choice', { level: { table: 'faults', column: 'part' } }],
});
const jobs = tableOf('jobs', {
  name: ['text'],
  system: ['choice', { level: { table: 'faults', column: 'system' } }],
  part: ['choice', { level: { table: 'faults', column: 'part' } }],
  repair: ['link', { table: 'repairs' }],
});
const tables: Tables = new Map([...harbour, ['repairs', repairs], ['jobs', jobs]]);

/** A form over a table, with fields changed; null takes a field off. */
function formOf(
  table: string,
  own: Record<string, Partial<PlacedField> | null> = {},
  more: Partial<DefinedForm> = {},
): DefinedForm {
  const made = generateForm(tables.get(table) ?? base(table));
  return {
    ...made,
    sections: made.sections.map((section) => ({
      ...section,
      items: section.items.flatMap((item) => {
        const change = isField(item) ? own[item.field] : undefined;
        return change === null ? [] : [isField(item) ? { ...item, ...change } : item];
      }),
    })),
    ...more,
  };
}
/** The form of stays with a public page whose disclosures are confirmed. */
const withPage = (settings: Partial<PublicPage>): DefinedForm =>
  confirmDisclosures(
    formOf('stays', {}, { page: { slug: 'stay', intro: '', thanks: '', disclosed: [], ...settings } }),
    tables,
  );
const narrowed = (...where: Condition[]) => ({
  narrowing: { where: all(...where), sort: null, show: [] as string[], only: false },
});
const rule = (more: Partial<Rule>): Rule => ({
  id: 'r',
  kind: 'stop',
  when: null,
  must: { kind: 'compare', left: form('departure'), operator: 'more', right: form('arrival') },
  at: 'departure',
  message: 'Departure must be after arrival.',
  examples: [],
  ...more,
});
const constant = (value: string | number | boolean) => ({ kind: 'constant' as const, value });
const fill = (from: string, to: string) => ({
  fill: {
    table: 'vessels',
    key: 'registration',
    whenNone: 'message' as const,
    pairs: [{ from, to, policy: 'replace' as const }],
  },
});
const withCard = (of: string): DefinedForm => {
  const made = formOf('stays');
  return {
    ...made,
    sections: made.sections.map((section) => ({
      ...section,
      items: [...section.items, { kind: 'card', id: 'c1', of }],
    })),
  };
};
const page = { slug: 'arrival', intro: '', thanks: '', disclosed: [] };
const found = (definition: DefinedForm): string[] =>
  prove(definition, tables, '2026-08-17T09:00').map((one) => `${one.weight} ${one.rule} ${one.path}`);

/** Each finding, a form that has it, and the same form corrected. */
const FINDINGS: [what: string, broken: DefinedForm, expected: string, corrected: DefinedForm][] = [
  ['a field that has gone', formOf('stays', { note: { field: 'colour' } }), 'must field colour', formOf('stays')],
  [
    'a field that stands there twice',
    formOf('stays', { phone: { field: 'note' } }),
    'must field note',
    formOf('stays'),
  ],
  ['a reference card of what is no link', withCard('note'), 'must card #c1', withCard('berth')],
  [
    'a personal link that fills what is no link',
    withPage({ who: { kind: 'link', fills: 'note' } }),
    'must page page',
    withPage({ who: { kind: 'link', fills: 'berth' } }),
  ],
  [
    'a limit of answers by a field that is not on the form',
    withPage({ atMostFor: { field: 'colour', most: 2 } }),
    'must page page',
    withPage({ atMostFor: { field: 'harbour', most: 2 } }),
  ],
  [
    'a locked field that is not on the form',
    withPage({ locked: ['colour'] }),
    'must page page',
    withPage({ locked: ['note'] }),
  ],
  [
    'a confirmation to what is no address',
    withPage({ confirmation: { to: 'note', subject: 'x', text: 'x' } }),
    'must page page',
    withPage({}),
  ],
  [
    'a page that closes before it opens',
    withPage({ when: { opens: '2099-01-02T08:00', closes: '2099-01-01T08:00' } }),
    'must page page',
    withPage({ when: { opens: '2099-01-01T08:00', closes: '2099-01-02T08:00' } }),
  ],
  [
    'a page that has closed',
    withPage({ when: { opens: null, closes: '2001-01-01T08:00' } }),
    'look page page',
    withPage({ when: { opens: null, closes: '2099-01-01T08:00' } }),
  ],
  ['a form without fields', { ...formOf('harbours'), sections: [] }, 'must empty sections', formOf('harbours')],
  [
    'a narrowing by a column that has gone',
    formOf('stays', { pontoon: narrowed(is(column('colour'), form('harbour'))) }),
    'must narrowing pontoon',
    formOf('stays', { pontoon: narrowed(is(column('harbour'), form('harbour'))) }),
  ],
  [
    'a narrowing by what is not on the form',
    formOf('stays', { phone: null, pontoon: narrowed(is(column('letter'), form('phone'))) }),
    'must narrowing pontoon',
    formOf('stays', { pontoon: narrowed(is(column('letter'), form('phone'))) }),
  ],
  [
    'sides of a narrowing that can never be equal',
    formOf('stays', { berth: narrowed(is(column('longest'), form('phone'))) }),
    'must narrowing berth',
    formOf('stays', {
      berth: narrowed({ kind: 'compare', left: column('longest'), operator: 'atLeast', right: form('length') }),
    }),
  ],
  [
    'a constant of another kind',
    formOf('stays', { berth: narrowed(is(column('longest'), constant('long'))) }),
    'must narrowing berth',
    formOf('stays', { berth: narrowed(is(column('longest'), constant(12))) }),
  ],
  [
    'a shown-when that can never hold',
    formOf('stays', { phone: { shownWhen: all(is(form('length'), form('note'))) } }),
    'must condition phone',
    formOf('stays', { phone: { shownWhen: all(is(form('note'), constant('x'))) } }),
  ],
  [
    'a condition on an enclosing record where there is none',
    formOf('stays', { phone: { requiredWhen: all(is({ kind: 'enclosing', path: 'note' }, constant('x'))) } }),
    'must condition phone',
    formOf('stays', { phone: { requiredWhen: all(is(form('note'), constant('x'))) } }),
  ],
  [
    'a rule over a field that has gone',
    formOf('stays', {}, { rules: [rule({ at: 'colour' })] }),
    'must rule colour',
    formOf('stays', {}, { rules: [rule({})] }),
  ],
  [
    'a fill of types that do not fit',
    formOf('stays', { registration: fill('length', 'phone') }),
    'must fill registration',
    formOf('stays', { registration: fill('name', 'phone') }),
  ],
  [
    'a fill into what is calculated',
    formOf('stays', { registration: fill('length', 'length'), length: { calculation: '3.0' } }),
    'must fill registration',
    formOf('stays', { registration: fill('length', 'length') }),
  ],
  [
    'a calculation with a mistake',
    formOf('stays', { length: { calculation: 'berth.longst * 2' } }),
    'must calculation length',
    formOf('stays', { length: { calculation: 'berth.longest * 2' } }),
  ],
  [
    'a calculation that gives what its field cannot hold',
    formOf('stays', { length: { calculation: 'note' } }),
    'must calculation length',
    formOf('stays', { phone: { calculation: 'note' } }),
  ],
  [
    'a rule whose expression is no yes or no',
    formOf('stays', {}, { rules: [rule({ must: { kind: 'expression', source: 'days(arrival, departure)' } })] }),
    'must calculation departure',
    formOf('stays', {}, { rules: [rule({ must: { kind: 'expression', source: 'days(arrival, departure) > 0' } })] }),
  ],
  [
    'fields in a circle',
    formOf('stays', {
      phone: { calculation: 'note' },
      note: { calculation: 'phone' },
    }),
    'must loop phone',
    formOf('stays', { phone: { calculation: 'note' } }),
  ],
  [
    'a field that shows itself',
    formOf('stays', { note: { shownWhen: all(is(form('note'), constant('x'))) } }),
    'must loop note',
    formOf('stays', { phone: { shownWhen: all(is(form('note'), constant('x'))) } }),
  ],
  [
    'a required field that is not on the form',
    formOf('stays', { harbour: null }),
    'must required harbour',
    formOf('stays', { harbour: null }, { may: { add: false, change: true, archive: true } }),
  ],
  [
    'a required field that is hidden at times',
    formOf('stays', { harbour: { shownWhen: all(is(form('note'), constant('x'))) } }),
    'must hiddenRequired harbour',
    formOf('stays', { harbour: { shownWhen: all(is(form('note'), constant('x'))), keepHidden: true } }),
  ],
  [
    'an example that fails',
    formOf(
      'stays',
      {},
      {
        rules: [
          rule({
            examples: [{ values: { arrival: '2026-08-17T10:00', departure: '2026-08-16T10:00' }, passes: true }],
          }),
        ],
      },
    ),
    'must example departure',
    formOf(
      'stays',
      {},
      {
        rules: [
          rule({
            examples: [{ values: { arrival: '2026-08-17T10:00', departure: '2026-08-16T10:00' }, passes: false }],
          }),
        ],
      },
    ),
  ],
  ['a level without the level above it', formOf('reports', { system: null }), 'look ancestor part', formOf('reports')],
  [
    'a hand-made condition that forgets an ancestor',
    formOf('jobs', { repair: narrowed(is(column('part'), form('part'))) }),
    'must ancestor repair',
    formOf('jobs', { repair: narrowed(is(column('part'), form('part')), is(column('system'), form('system'))) }),
  ],
  [
    'a narrowing by a field further down',
    formOf('stays', { harbour: narrowed(is(column('name'), form('phone'))) }),
    'look later harbour',
    formOf('stays', { berth: narrowed(is(column('number'), form('note'))) }),
  ],
  [
    'a narrowing by a field that is hidden at times',
    formOf('stays', {
      pontoon: { shownWhen: all(is(form('note'), constant('x'))) },
      berth: narrowed(is(column('pontoon'), form('pontoon'))),
    }),
    'look later berth',
    formOf('stays', { berth: narrowed(is(column('pontoon'), form('pontoon'))) }),
  ],
  ['two fields of one label', formOf('stays', { phone: { label: 'Note' } }), 'look label phone', formOf('stays')],
  [
    'a rule that stands at no field of the form',
    formOf('stays', { departure: null }, { rules: [rule({ must: is(form('note'), form('phone')) })] }),
    'look label departure',
    formOf('stays', {}, { rules: [rule({ must: is(form('note'), form('phone')) })] }),
  ],
  [
    'a public page that tells what a typed key finds',
    formOf('stays', { registration: fill('owner.phone', 'phone') }, { page }),
    'must disclosure registration',
    confirmDisclosures(formOf('stays', { registration: fill('owner.phone', 'phone') }, { page }), tables),
  ],
  [
    'a public page that shows columns beside choices',
    formOf('stays', { berth: { narrowing: { where: all(), sort: null, show: ['longest'], only: false } } }, { page }),
    'must disclosure berth',
    confirmDisclosures(
      formOf('stays', { berth: { narrowing: { where: all(), sort: null, show: ['longest'], only: false } } }, { page }),
      tables,
    ),
  ],
];

describe('the proof finds', () => {
  test.each(FINDINGS)('%s, and not where it is corrected', (_what, broken, expected, corrected) => {
    expect(found(broken)).toContain(expected);
    expect(found(corrected)).not.toContain(expected);
  });

  test('says what, where and why, with what must be corrected first', () => {
    const findings = prove(formOf('stays', { harbour: null, phone: { label: 'note' } }), tables, '2026-08-17T09:00');
    expect(findings.map((one) => one.weight)).toEqual(['must', 'look']);
    for (const one of findings) expect(one.message.endsWith('.') && one.why.endsWith('.')).toBe(true);
  });

  test('nothing in a form as a table gives it', () => {
    for (const table of tables.values()) expect(found(generateForm(table))).toEqual([]);
  });
});
