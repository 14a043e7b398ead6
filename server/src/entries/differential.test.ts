import type * as Entry from '@fiche/core/entry';
import { type DefinedForm, prepareForm } from '@fiche/core/forms';
import type { Tables } from '@fiche/core/tables';
import fc from 'fast-check';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { decide } from '../deciding/index.ts';
import { loadDefinitions } from '../definitions/index.ts';
import { type Browser, buildForBrowsers } from '../fixtures/browser.ts';
import { type Act, act, formsWithLines, type LineAct, lineAct, NOW, stayForms } from '../fixtures/generated.ts';
import { type TestOffice, testOffice } from '../fixtures/office.ts';
import { addServices } from '../fixtures/services.ts';
import { Sitting } from '../fixtures/sitting.ts';
import { findRecord, linesOfForm } from '../records/index.ts';

let office: TestOffice;
let tables: Tables;
let browser: Browser;

beforeAll(async () => {
  office = await testOffice();
  await addServices(office);
  tables = (await loadDefinitions(office.services.databases.app)).tables;
  browser = await buildForBrowsers();
  await office.services.databases.owner.raw(
    `INSERT INTO data.quay_vessels (name, registration, length) VALUES ('Second Tystie', 'GS-0008', 6), ('Third', 'GS-0009', null);
     INSERT INTO data.quay_stays (harbour, pontoon, berth, registration, vessel, length, note, arrival, departure, persons)
     VALUES (1, 1, 1, 'GS-0007', 2, 6, 'a', '2026-08-10 10:00', '2026-08-12 10:00', 2), (2, 3, 4, null, null, 5, null, null, null, null);
     INSERT INTO data.quay_used (stay, service, quantity, rate, amount) VALUES (1, 1, 1, 65, 65), (1, 2, 3, 4.1, 12.3), (2, 3, 2, 9, 18)`,
  );
});
afterAll(async () => {
  browser.close();
  await office.close();
});

const problemKey = (one: Entry.EntryProblem): string =>
  JSON.stringify([one.path, one.rule, one.message, one.asks ?? false]);
const saved = (one: Entry.EntryState) => browser.entry.effectiveValues(browser.entry.readable(one));
/** The lines of the subforms that are shown, as they would be saved. */
const savedLines = (one: Entry.EntryState) =>
  [...one.form.subforms.keys()]
    .filter((id) => !one.hidden[id])
    .map((id) => browser.entry.presentLines(one, id).map(({ key, state }) => [key, saved(state), state.hidden]));

/** How often which verdict was come to: both have to occur, or nothing was compared. */
class Verdicts {
  taken = 0;
  refused = 0;
  lines = 0;
}

/** Fills a form as a person would, and holds what the server makes of it against what the browser showed. */
async function fillAndCompare(
  made: DefinedForm,
  nth: number,
  acts: readonly (Act | LineAct)[],
  verdicts: Verdicts,
): Promise<void> {
  const { app } = office.services.databases;
  const prepared = prepareForm(made, tables);
  // A new record, or one of two that are there.
  const id = nth % 3;
  const facts = (field: { readonly id: string }) => prepared.fields.get(field.id)?.factPaths ?? [];
  const record = id === 0 ? null : await findRecord(app, tables, 'quay_stays', id, facts);
  const lines = record ? await linesOfForm(app, prepared, id, { asking: { account: 'quayclerk', now: NOW } }) : {};
  const sitting = await Sitting.begin({ browser, database: app, tables }, made, record, lines);
  for (const one of acts)
    if (one.kind === 'choose' || one.kind === 'type' || one.kind === 'decide') await sitting.act(one);
    else await sitting.actInLines('used', one);
  const { state } = sitting;
  const opening = { account: 'quayclerk', now: NOW, record, lines };
  const { state: settled, problems } = await decide(app, prepared, opening, browser.entry.submission(state));
  const seen = browser.entry.problemsOf(state);
  expect(problems.map(problemKey).sort()).toEqual(seen.map(problemKey).sort());
  expect(saved(settled)).toEqual(saved(state));
  expect(settled.hidden).toEqual(state.hidden);
  expect(savedLines(settled)).toEqual(savedLines(state));
  verdicts.lines += savedLines(state).flat().length;
  if (problems.length > 0) verdicts.refused++;
  else verdicts.taken++;
}

test('thousands of entries into generated forms are decided alike in the browser’s build and by the server', async () => {
  const verdicts = new Verdicts();
  const sittings = fc.array(fc.array(act, { maxLength: 7 }), { minLength: 6, maxLength: 6 });
  await fc.assert(
    fc.asyncProperty(stayForms(tables), sittings, async (made, some) => {
      for (const [n, acts] of some.entries()) await fillAndCompare(made, n, acts, verdicts);
    }),
    { numRuns: Number(process.env.FICHE_RUNS ?? 350), endOnFailure: false },
  );
  expect(verdicts.taken + verdicts.refused).toBeGreaterThan(2_000);
  expect(verdicts.refused).toBeGreaterThan(200);
  expect(verdicts.taken).toBeGreaterThan(200);
}, 240_000);

test('and so are entries with lines, which read one another and the record around them', async () => {
  const verdicts = new Verdicts();
  const both = fc.oneof({ weight: 2, arbitrary: act }, { weight: 5, arbitrary: lineAct });
  const sittings = fc.array(fc.array(both, { maxLength: 12 }), { minLength: 3, maxLength: 3 });
  await fc.assert(
    fc.asyncProperty(formsWithLines(tables), sittings, async (made, some) => {
      for (const [n, acts] of some.entries()) await fillAndCompare(made, n, acts, verdicts);
    }),
    { numRuns: Number(process.env.FICHE_RUNS ?? 150), endOnFailure: false },
  );
  expect(verdicts.lines).toBeGreaterThan(300);
  expect(verdicts.refused).toBeGreaterThan(50);
  expect(verdicts.taken).toBeGreaterThan(50);
}, 240_000);
