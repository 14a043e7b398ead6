import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath, pathToFileURL } from 'node:url';
import { all, type Condition, type Group, is } from '@fiche/core/conditions';
import type * as Entry from '@fiche/core/entry';
import type { Value } from '@fiche/core/fields';
import type * as Forms from '@fiche/core/forms';
import { type DefinedForm, generateForm, isField, type PlacedField, prepareForm } from '@fiche/core/forms';
import { prove } from '@fiche/core/proof';
import type { Rule } from '@fiche/core/rules';
import type { Tables } from '@fiche/core/tables';
import fc from 'fast-check';
import { build } from 'vite';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { findById, findByKey, findChoices, isAmongChoices, readableOf } from '../choices/index.ts';
import { loadDefinitions } from '../definitions/index.ts';
import { type TestOffice, testOffice } from '../fixtures/office.ts';
import { findRecord } from '../records/index.ts';
import { decide } from './decide.ts';

/** The core as a browser gets it: bundled, minified, without anything of Node. */
interface Browser {
  readonly entry: typeof Entry;
  readonly forms: typeof Forms;
}

const NOW = '2026-08-17T09:00';
let office: TestOffice;
let tables: Tables;
let browser: Browser;
let folder: string;

beforeAll(async () => {
  office = await testOffice();
  tables = (await loadDefinitions(office.services.databases.app)).tables;
  await office.services.databases.owner.raw(
    `INSERT INTO data.quay_vessels (name, registration, length) VALUES ('Second Tystie', 'GS-0008', 6), ('Third', 'GS-0009', null)`,
  );
  folder = mkdtempSync(join(tmpdir(), 'fiche-core-'));
  const core = fileURLToPath(new URL('../../../core/src/', import.meta.url));
  await build({
    configFile: false,
    logLevel: 'silent',
    build: {
      outDir: folder,
      emptyOutDir: true,
      minify: true,
      lib: {
        entry: { entry: `${core}entry/index.ts`, forms: `${core}forms/index.ts` },
        formats: ['es'],
        fileName: (_format, name) => `${name}.mjs`,
      },
    },
  });
  const load = (name: string): Promise<unknown> => import(pathToFileURL(join(folder, `${name}.mjs`)).href);
  browser = { entry: (await load('entry')) as typeof Entry, forms: (await load('forms')) as typeof Forms };
});
afterAll(async () => {
  rmSync(folder, { recursive: true, force: true });
  await office.close();
});

const form = (path: string) => ({ kind: 'form' as const, path });
const column = (path: string) => ({ kind: 'column' as const, path });
const constant = (value: string | number | boolean) => ({ kind: 'constant' as const, value });

// Generated conditions over the form: texts, numbers, moments, columns behind links, today.
const operator = fc.constantFrom('is', 'isNot', 'less', 'atMost', 'more', 'atLeast') as fc.Arbitrary<'is'>;
const numbers = fc.constantFrom('length', 'persons', 'berth.longest', 'vessel.length');
const condition: fc.Arbitrary<Condition> = fc.oneof(
  fc
    .tuple(
      fc.constantFrom('note', 'registration', 'pontoon.letter'),
      operator,
      fc.constantFrom('a', 'b', 'A', 'GS-0421'),
    )
    .map(
      ([left, sign, value]): Condition => ({
        kind: 'compare',
        left: form(left),
        operator: sign,
        right: constant(value),
      }),
    ),
  fc
    .tuple(numbers, operator, numbers)
    .map(
      ([left, sign, right]): Condition => ({ kind: 'compare', left: form(left), operator: sign, right: form(right) }),
    ),
  fc.tuple(numbers, operator, fc.constantFrom(2, 6, 8, 11.2)).map(
    ([left, sign, value]): Condition => ({
      kind: 'compare',
      left: form(left),
      operator: sign,
      right: constant(value),
    }),
  ),
  fc.tuple(fc.constantFrom('arrival', 'departure'), operator, fc.integer({ min: -2, max: 3 })).map(
    ([left, sign, days]): Condition => ({
      kind: 'compare',
      left: form(left),
      operator: sign,
      right: { kind: 'today', days, of: 'dateTime' },
    }),
  ),
  fc
    .constantFrom('note', 'persons', 'berth', 'arrival')
    .chain((left) =>
      fc
        .constantFrom('isBlank', 'isNotBlank')
        .map((sign): Condition => ({ kind: 'compare', left: form(left), operator: sign as 'isBlank' })),
    ),
);
const group: fc.Arbitrary<Group> = fc
  .tuple(
    fc.constantFrom('all', 'any', 'none') as fc.Arbitrary<'all'>,
    fc.array(condition, { minLength: 1, maxLength: 3 }),
  )
  .map(([match, of]) => ({ kind: 'group', match, of }));

const where = (of: readonly Condition[], only = false) => ({
  narrowing: { where: all(...of), sort: null, show: [] as string[], only },
});
const own: fc.Arbitrary<Record<string, Partial<PlacedField>>> = fc.record({
  pontoon: fc
    .tuple(fc.constantFrom(0, 1), fc.boolean())
    .map(([n, only]) => where(n === 0 ? [] : [is(column('harbour'), form('harbour'))], only)),
  berth: fc
    .tuple(
      fc.subarray<Condition>([
        is(column('pontoon'), form('pontoon')),
        { kind: 'compare', left: column('longest'), operator: 'atLeast', right: form('length') },
        {
          kind: 'group',
          match: 'none',
          of: [is(column('number'), form('note')), { kind: 'compare', left: column('longest'), operator: 'isBlank' }],
        },
        is(column('pontoon.harbour'), form('harbour')),
      ]),
      fc.boolean(),
    )
    .map(([of, only]) => where(of, only)),
  registration: fc
    .tuple(
      fc.constantFrom('registration', 'length'),
      fc.constantFrom('message', 'refuse', 'nothing') as fc.Arbitrary<'message'>,
      fc.constantFrom('replace', 'keep', 'ask') as fc.Arbitrary<'replace'>,
      fc.subarray(['self', 'length', 'name']),
    )
    .map(([, whenNone, policy, from]) => ({
      fill: {
        table: 'quay_vessels',
        key: 'registration',
        whenNone,
        pairs: [
          { from: 'self', to: 'vessel', policy: 'replace' as const },
          { from: 'length', to: 'length', policy },
          { from: 'name', to: 'note', policy },
        ].filter((pair) => from.includes(pair.from)),
      },
    })),
  vessel: fc.boolean().map((readOnly) => ({ readOnly })),
  persons: fc.record({
    shownWhen: fc.option(group),
    keepHidden: fc.boolean(),
    requiredWhen: fc.option(group),
    initial: fc.constantFrom(null, { kind: 'calculation' as const, source: 'blank(length) ? 1 : 2' }),
  }),
  arrival: fc.record({ shownWhen: fc.option(group), requiredWhen: fc.option(group) }),
  departure: fc.record({
    shownWhen: fc.option(group),
    calculation: fc.constantFrom(null, null, 'addDays(arrival, persons > 3.0 ? 2 : 1)'),
  }),
});
const rule: fc.Arbitrary<Omit<Rule, 'id'>> = fc.record({
  kind: fc.constantFrom('stop' as const, 'ask' as const),
  when: fc.option(group),
  must: fc.oneof(
    condition,
    group,
    fc
      .constantFrom('berth.longest >= length', 'days(arrival, departure) < 3', 'blank(note) || size(note) < 2')
      .map((source) => ({ kind: 'expression' as const, source })),
  ),
  at: fc.constantFrom('length', 'departure', 'note', 'persons', 'berth'),
  message: fc.constantFrom('Not so.', 'Look again.'),
  examples: fc.constant([]),
});
const definition: fc.Arbitrary<DefinedForm> = fc
  .tuple(own, fc.array(rule, { maxLength: 3 }))
  .map(([fields, rules]) => {
    const table = tables.get('quay_stays');
    const made = table ? generateForm(table) : undefined;
    if (!made) throw new Error('There are no stays');
    return {
      ...made,
      sections: made.sections.map((section) => ({
        ...section,
        items: section.items.map((item) => (isField(item) ? { ...item, ...fields[item.field] } : item)),
      })),
      rules: rules.map((one, n) => ({ ...one, id: `r${n}` })),
    };
  })
  .filter((made) => prove(made, tables, NOW).every((finding) => finding.weight !== 'must'));

type Act =
  | { readonly kind: 'choose'; readonly field: string; readonly nth: number }
  | { readonly kind: 'type'; readonly field: string; readonly text: string }
  | { readonly kind: 'decide'; readonly take: boolean };
const act: fc.Arbitrary<Act> = fc.oneof(
  fc.record({
    kind: fc.constant('choose' as const),
    field: fc.constantFrom('harbour', 'pontoon', 'berth', 'vessel'),
    nth: fc.nat(5),
  }),
  fc
    .constantFrom(
      ['registration', 'GS-0421', 'GS-0007', 'GS-0009', 'GS-1', ''],
      ['length', '5', '11.2', '8', ''],
      ['persons', '1', '4', ''],
      ['note', 'a', 'b', 'A-1', 'Tystie', ''],
      ['arrival', '2026-08-17 10:00', '2026-08-19 10:00', ''],
      ['departure', '2026-08-18 10:00', '2026-08-16 10:00', ''],
    )
    .chain(([field = '', ...texts]) =>
      fc.constantFrom(...texts).map((text) => ({ kind: 'type' as const, field, text })),
    ),
  fc.record({ kind: fc.constant('decide' as const), take: fc.boolean() }),
);

/** A person at a card in the browser; its questions are answered out of the database as the routes do. */
class Sitting {
  state: Entry.EntryState;
  private constructor(
    private readonly form: Forms.PreparedForm,
    first: Entry.Step,
  ) {
    this.state = first.state;
  }

  static async begin(made: DefinedForm, record: Entry.OpenedRecord | null): Promise<Sitting> {
    const prepared = browser.forms.prepareForm(made, tables);
    const step = browser.entry.openEntry(prepared, { account: 'quayclerk', now: NOW, record });
    const sitting = new Sitting(prepared, step);
    await sitting.answer(step.requests);
    return sitting;
  }

  async do(event: Entry.EntryEvent): Promise<void> {
    const step = browser.entry.reduceEntry(this.state, event);
    this.state = step.state;
    await this.answer(step.requests);
  }

  async act(one: Act): Promise<void> {
    if (one.kind === 'type') {
      await this.do({ type: 'typed', field: one.field, text: one.text });
      await this.do({ type: 'left', field: one.field });
    } else if (one.kind === 'choose') {
      const choices = [
        null,
        ...(await this.choices(one.field, browser.entry.effectiveValues(browser.entry.readable(this.state)))),
      ];
      const choice = choices[one.nth % choices.length] ?? null;
      await this.do({
        type: 'changed',
        field: one.field,
        value: choice?.value ?? null,
        linked: choice ? { title: choice.title, facts: choice.facts } : undefined,
      });
    } else
      for (const field of Object.keys(this.state.offers)) await this.do({ type: 'answered', field, take: one.take });
  }

  private async entryFor(field: string, values: Readonly<Record<string, Value>>) {
    const dropdown = this.form.fields.get(field);
    if (!dropdown) throw new Error(field);
    const asked = { account: 'quayclerk', now: NOW, values };
    return { dropdown, entry: await readableOf(office.services.databases.app, this.form, asked, dropdown) };
  }

  private async choices(field: string, values: Readonly<Record<string, Value>>, limit = 50) {
    const { dropdown, entry } = await this.entryFor(field, values);
    if (dropdown.readOnly) return [];
    return (await findChoices(office.services.databases.app, entry, dropdown, '', limit)).choices;
  }

  private async answer(requests: readonly Entry.Request[]): Promise<void> {
    const database = office.services.databases.app;
    for (const request of requests) {
      const { number } = request;
      const field = 'field' in request ? this.form.fields.get(request.field) : undefined;
      if (!field) continue;
      if (request.kind === 'lookup' || request.kind === 'facts') {
        const found = await findById(database, this.form, field, request.id);
        await this.do({ type: 'found', kind: request.kind, field: field.id, number, found: found ? [found] : [] });
      } else if (request.kind === 'keyLookup')
        await this.do({
          type: 'found',
          kind: 'keyLookup',
          field: field.id,
          number,
          found: await findByKey(database, this.form, field, request.key),
        });
      else if (request.kind === 'check') {
        const { dropdown, entry } = await this.entryFor(field.id, request.values);
        const fits = await isAmongChoices(database, entry, dropdown, request.values[field.id] ?? null);
        await this.do({ type: 'checked', field: field.id, number, fits });
      } else if (request.kind === 'only') {
        const choices = await this.choices(field.id, request.values, 2);
        const choice = choices.length === 1 ? (choices[0] ?? null) : null;
        await this.do({ type: 'onlyChoice', field: field.id, number, choice });
      }
    }
  }
}

const problemKey = (one: Entry.EntryProblem): string =>
  JSON.stringify([one.path, one.rule, one.message, one.asks ?? false]);

test('thousands of entries into generated forms are decided alike in the browser’s build and by the server', async () => {
  const { app } = office.services.databases;
  await office.services.databases.owner.raw(
    `INSERT INTO data.quay_stays (harbour, pontoon, berth, registration, vessel, length, note, arrival, departure, persons)
     VALUES (1, 1, 1, 'GS-0007', 2, 6, 'a', '2026-08-10 10:00', '2026-08-12 10:00', 2), (2, 3, 4, null, null, 5, null, null, null, null)`,
  );
  let entries = 0;
  let refused = 0;
  await fc.assert(
    fc.asyncProperty(
      definition,
      fc.array(fc.array(act, { maxLength: 7 }), { minLength: 6, maxLength: 6 }),
      async (made, sittings) => {
        const prepared = prepareForm(made, tables);
        for (const [n, acts] of sittings.entries()) {
          const id = n % 3;
          const record =
            id === 0
              ? null
              : await findRecord(
                  app,
                  tables,
                  'quay_stays',
                  id,
                  (field) => prepared.fields.get(field.id)?.factPaths ?? [],
                );
          const sitting = await Sitting.begin(made, record);
          for (const one of acts) await sitting.act(one);
          const { state } = sitting;
          const opening = { account: 'quayclerk', now: NOW, record };
          const { state: settled, problems } = await decide(app, prepared, opening, browser.entry.submission(state));
          const seen = browser.entry.problemsOf(state);
          expect(problems.map(problemKey).sort()).toEqual(seen.map(problemKey).sort());
          const saved = (one: Entry.EntryState) => browser.entry.effectiveValues(browser.entry.readable(one));
          expect(saved(settled)).toEqual(saved(state));
          expect(settled.hidden).toEqual(state.hidden);
          entries++;
          if (problems.length > 0) refused++;
        }
      },
    ),
    { numRuns: Number(process.env.FICHE_RUNS ?? 350), endOnFailure: false },
  );
  // Both verdicts have to occur, or nothing was compared.
  expect(entries).toBeGreaterThan(2_000);
  expect(refused).toBeGreaterThan(200);
  expect(entries - refused).toBeGreaterThan(200);
}, 240_000);
