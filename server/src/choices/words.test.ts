import { type PreparedForm, prepareForm } from '@fiche/core/forms';
import { newFieldSchema } from '@fiche/core/tables';
import fc from 'fast-check';
import { afterAll, beforeAll, beforeEach, expect, test } from 'vitest';
import { asActor } from '../database/index.ts';
import { loadDefinitions } from '../definitions/index.ts';
import { freshDatabase, type TestDatabase } from '../fixtures/database.ts';
import { createForm, publishForm } from '../forms/index.ts';
import { addField, createCabinet, createList, createTable, prepareIndexes } from '../tables/index.ts';
import { findChoices, readableOf } from './index.ts';

const LEVELS = ['one', 'two', 'three', 'four', 'five'] as const;

const actor = { name: 'harbourmaster', through: { kind: 'seed', label: 'test' } } as const;

let database: TestDatabase;
let form: PreparedForm;
let list: string;

beforeAll(async () => {
  database = await freshDatabase();
  const { owner } = database.databases;
  let draft: Awaited<ReturnType<typeof createForm>> | undefined;
  await asActor(owner, actor, async (transaction) => {
    await createCabinet(transaction, 'quay', 'Quay');
    const made = await createList(transaction, 'quay', 'Gear', ['One', 'Two', 'Three', 'Four', 'Five']);
    list = made.id;
    await createTable(transaction, 'quay', 'Faults', '');
    for (const { id, label } of made.fields)
      await addField(
        transaction,
        'quay_faults',
        newFieldSchema.parse({ label, type: 'choice', settings: { level: { table: list, column: id } } }),
      );
    draft = await createForm(transaction, 'quay', 'quay_faults', 'Faults');
  });
  const { id, draftRevision } = draft ?? { id: '', draftRevision: 0 };
  await prepareIndexes(owner, id);
  await asActor(owner, actor, (transaction) => publishForm(transaction, id, draftRevision));
  const { tables, forms } = await loadDefinitions(owner);
  const live = [...forms.values()][0]?.live;
  if (!live) throw new Error('The form is not published');
  form = prepareForm(live, tables);
});
afterAll(() => database.drop());
beforeEach(() => fill([]));

/** Puts these combinations, and no others, into the list. */
async function fill(rows: readonly (readonly (string | null)[])[], archived = 0): Promise<void> {
  await database.databases.owner.transaction(async (transaction) => {
    await transaction.raw(`ALTER TABLE data.${list} DISABLE TRIGGER USER; DELETE FROM data.${list}`);
    await transaction.raw(
      `INSERT INTO data.${list} (one, two, three, four, five, created_at, created_by, changed_at, changed_by, version, archived_at)
       SELECT r->>0, r->>1, r->>2, r->>3, r->>4, now(), 'test', now(), 'test', 1, CASE WHEN n <= ? THEN now() END
       FROM json_array_elements(?::json) WITH ORDINALITY AS r(r, n)`,
      [archived, JSON.stringify([...new Map(rows.map((row) => [row.join('\u001f'), row])).values()])],
    );
    await transaction.raw(`ALTER TABLE data.${list} ENABLE TRIGGER USER`);
  });
}

const LIMIT = 12;

async function asked(level: string, values: Record<string, string>, search: string, limit = LIMIT) {
  const { app } = database.databases;
  const dropdown = form.fields.get(level);
  if (!dropdown) throw new Error(`The form has no ${level}`);
  const entry = await readableOf(app, form.tables, form, { account: null, now: '2026-08-17T09:00', values }, dropdown);
  const { choices, more } = await findChoices(app, form.tables, entry, dropdown, search, limit);
  return { words: choices.map((choice) => choice.value), more };
}

/** The answer of a scan that knows no index: the words below what is chosen, narrowed by what was typed. */
async function scanned(level: string, values: Record<string, string>, search: string, anywhere = true) {
  const above = Object.entries(values).filter(([one]) => LEVELS.indexOf(one as never) < LEVELS.indexOf(level as never));
  const typed = search
    .trim()
    .normalize('NFC')
    .replace(/[\\%_]/g, '\\$&');
  const { rows } = await database.databases.owner.raw<{ rows: { word: string }[] }>(
    `SELECT word FROM (SELECT DISTINCT ${level} AS word FROM (SELECT * FROM data.${list} OFFSET 0) l
       WHERE archived_at IS NULL AND ${level} IS NOT NULL ${above.map(([one]) => `AND ${one} = ?`).join(' ')}) w
     WHERE word ILIKE ? ORDER BY word ILIKE ? DESC, word COLLATE fiche.natural LIMIT ?`,
    [...above.map(([, value]) => value), `${anywhere ? '%' : ''}${typed}%`, `${typed}%`, LIMIT + 1],
  );
  return { words: rows.slice(0, LIMIT).map((row) => row.word), more: rows.length > LIMIT };
}

const word = fc
  .oneof(
    fc.constantFrom(
      'a',
      'A',
      'á',
      'ab',
      'Ab',
      'berth',
      'Berth',
      'İzmir',
      'izmir',
      'ızgara',
      'ß',
      'ss',
      'ж',
      'Ж',
      'й',
      'เก',
      '%',
      '_',
    ),
    fc.constantFrom('Berth ', 'berth ', '', 'é').chain((head) => fc.nat({ max: 1_200 }).map((n) => `${head}${n}`)),
    fc.constantFrom('07', '007', '0', '00', '7a', '70 b', '12345678901234567890123', 'berth 07'),
    fc.string({ unit: 'grapheme', minLength: 1, maxLength: 4 }),
  )
  .map((text) => text.normalize('NFC').trim())
  .filter((text) => text !== '' && text.isWellFormed() && !text.includes('\u0000'));

/** Combinations of random shapes: deep, wide, with doubled words. */
const shape = fc
  .tuple(
    fc.array(word, { minLength: 1, maxLength: 40 }),
    fc.integer({ min: 1, max: 40 }),
    fc.integer({ min: 1, max: 400 }),
  )
  .chain(([words, width, size]) => {
    const one = fc.constantFrom(...words.slice(0, width));
    return fc.array(fc.tuple(one, one, one, one, one), { minLength: 1, maxLength: size });
  });

test('whatever is blank, chosen or typed, the words are those of a scan: those that begin with it first, in natural order', async () => {
  await fc.assert(
    fc.asyncProperty(
      shape,
      fc.nat({ max: 3 }),
      fc.array(
        fc.tuple(
          fc.constantFrom(...LEVELS),
          fc.nat(),
          fc.subarray([...LEVELS]),
          fc.oneof(
            fc.constant(''),
            word,
            fc.tuple(word, fc.nat({ max: 3 })).map(([text, n]) => text.slice(0, n)),
          ),
        ),
        { minLength: 8, maxLength: 8 },
      ),
      async (rows, archived, questions) => {
        await fill(rows, archived);
        for (const [level, n, chosen, typed] of questions) {
          const search = typed.isWellFormed() ? typed : '';
          const row = rows[n % rows.length] ?? [];
          const values = Object.fromEntries(
            chosen.flatMap((one) => {
              const value = row[LEVELS.indexOf(one)];
              return value == null || one === level ? [] : [[one, value]];
            }),
          );
          expect(await asked(level, values, search), JSON.stringify([level, values, search])).toEqual(
            await scanned(level, values, search),
          );
        }
      },
    ),
    { numRuns: 60 },
  );
});

test('of thousands of words, those that are few are found behind the first ones, and numbers by how they begin', async () => {
  await fill(
    Array.from({ length: 5_000 }, (_, n) => [
      `Harbour ${n % 3}`,
      `Berth ${n + 1}`,
      n % 700 ? 'Cleat' : 'Bollard',
      'x',
      `Part ${n}`,
    ]),
  );
  await database.databases.owner.raw(`ANALYZE data.${list}`);
  expect(await asked('five', {}, 'rt 499')).toEqual(await scanned('five', {}, 'rt 499'));
  for (const search of ['', 'b', 'be', 'Berth 49', 'berth 4999', '49', 'x', '999'])
    for (const values of [{}, { one: 'Harbour 1' }] as Record<string, string>[])
      expect(await asked('two', values, search), search).toEqual(
        await scanned('two', values, search, search.length >= 3),
      );
});

test('a part of the order that is not walked to its end hides nothing of what stands behind it', async () => {
  const words = [
    ...Array.from({ length: 299 }, (_, n) => `é1 ${n}`),
    'e1 zz',
    'e1 zzz',
    ...Array.from({ length: 40 }, (_, n) => `e10 ${n}`),
  ];
  await fill(words.map((one) => [one, 'x', 'x', 'x', 'x']));
  for (const search of ['e1', 'e1 ', 'e1 z', 'é1'])
    expect(await asked('one', {}, search), search).toEqual(await scanned('one', {}, search, search.trim().length >= 3));
});

test('words are found within a question that can be taken back, too', async () => {
  await fill(Array.from({ length: 2_000 }, (_, n) => [`Berth ${n + 1}`, 'x', 'x', 'x', `Part ${n}`]));
  const dropdown = form.fields.get('five');
  if (!dropdown) throw new Error('The form has no five');
  const found = await database.databases.pages.transaction(
    async (transaction) => {
      const entry = await readableOf(
        transaction,
        form.tables,
        form,
        { account: null, now: '2026-08-17T09:00', values: {} },
        dropdown,
      );
      return findChoices(transaction, form.tables, entry, dropdown, 'rt 1999', LIMIT);
    },
    { readOnly: true },
  );
  expect(found.choices.map((choice) => choice.value)).toEqual(['Part 1999']);
});

test('a level whose parent is blank is read through an index of its own, made before the form is live', async () => {
  await fill(
    Array.from({ length: 3_000 }, (_, n) => [
      `Harbour ${n % 3}`,
      `Berth ${n % 900}`,
      `Cleat ${n % 11}`,
      'x',
      `Part ${n}`,
    ]),
  );
  const { rows } = await database.databases.owner.raw<{ rows: { columns: string }[] }>(
    `SELECT pg_get_indexdef(indexrelid) AS columns FROM pg_index WHERE indrelid = 'data.${list}'::regclass`,
  );
  const orders = rows.map(({ columns }) => (columns.match(/(\w+) COLLATE/g) ?? []).map((one) => one.split(' ')[0]));
  for (let blanks = 0; blanks < 16; blanks++) {
    const wanted = LEVELS.filter((_, n) => n === 4 || !(blanks & (1 << n)));
    expect(orders).toContainEqual(wanted);
  }
});
