import { expect, test } from 'vitest';
import { all, EVERYTHING, is } from '../conditions/index.ts';
import { linesForm } from '../entry/fixtures/lines.ts';
import type { Tables } from '../tables/index.ts';
import {
  type DefinedForm,
  feedingWords,
  isField,
  isSubform,
  prepareForm,
  viewsOfForm,
  withFeedingViews,
  withoutViews,
} from './index.ts';

const PLAIN = { where: EVERYTHING, sort: null, show: [], only: false };
const tables: Tables = linesForm().tables;
/** The form of stays whose records, berths, lines and services are fed by the views 1 to 4. */
const fed: DefinedForm = (({ definition }) => ({
  ...definition,
  view: 1,
  sections: definition.sections.map((section) => ({
    ...section,
    items: section.items.map((item) => {
      if (isField(item) && item.field === 'berth')
        return { ...item, narrowing: { ...PLAIN, ...item.narrowing, view: 2 } };
      if (!isSubform(item)) return item;
      const fields = item.fields.map((one) =>
        one.field === 'service' ? { ...one, narrowing: { ...PLAIN, ...one.narrowing, view: 4 } } : one,
      );
      return { ...item, view: 3, fields };
    }),
  })),
}))(linesForm());
const long = all(is({ kind: 'column', path: 'longest' }, { kind: 'constant', value: 12 }));

test('every view that a form names is told, with its table and what it is for', () => {
  expect(viewsOfForm(fed, tables).map((use) => [use.view, use.table, use.path, feedingWords(use)])).toEqual([
    [1, 'stays', 'view', 'which records it shows'],
    [2, 'berths', 'berth', 'what berth offers'],
    [3, 'used', 'used', 'which lines used shows'],
    [4, 'tariff', 'used.service', 'what service offers'],
  ]);
});

test('a form without its views names none, and is the same besides', () => {
  const bare = withoutViews(fed);
  expect(viewsOfForm(bare, tables)).toEqual([]);
  expect(JSON.stringify(bare)).toBe(JSON.stringify(withoutViews(linesForm().definition)));
  expect(viewsOfForm(fed, tables)).toHaveLength(4);
});

test('a dropdown and lines are kept within their view; a view that is not there, or of another table, finds nothing', () => {
  const form = prepareForm(fed, tables);
  const nothing = { kind: 'group', match: 'any', of: [] };
  const within = (...views: [number, { table: string; filter: typeof long }][]) => {
    const one = withFeedingViews(form, new Map(views));
    const lines = one.subforms.get('used');
    return [
      one.fields.get('berth')?.within,
      lines?.within,
      lines?.form.fields.get('service')?.within,
      one.fields.get('harbour')?.within,
    ];
  };
  expect(
    within(
      [2, { table: 'berths', filter: long }],
      [3, { table: 'used', filter: EVERYTHING }],
      [4, { table: 'tariff', filter: EVERYTHING }],
    ),
  ).toEqual([long, EVERYTHING, EVERYTHING, undefined]);
  expect(within([2, { table: 'pontoons', filter: long }])).toEqual([nothing, nothing, nothing, undefined]);
});
