import fc from 'fast-check';
import { beforeAll, describe, expect, test } from 'vitest';
import { all, EVERYTHING, is } from '../conditions/index.ts';
import { loadExpressions } from '../expressions/index.ts';
import type { Values } from '../fields/index.ts';
import { fieldOf, tableOf } from '../fixtures/tables.ts';
import { type Ripple, type RippleEffect, rippleSchema, type TableDefinition } from '../tables/index.ts';
import {
  eventValues,
  type PreparedRipple,
  prepareRipple,
  proposeValues,
  type RippleEvent,
  rippleCircle,
  rippleWords,
  sourceMisfit,
} from './index.ts';

const form = (path: string) => ({ kind: 'form' as const, path });
const yes = { kind: 'constant' as const, value: true };
const owners = tableOf('owners', [fieldOf('name', 'text'), fieldOf('e_mail', 'email')], { title: 'name' });
const stays = tableOf('stays', [
  fieldOf('number', 'sequence', { settings: { prefix: 'STAY-', withYear: true, width: 5 } }),
  fieldOf('owner', 'link', { settings: { table: 'owners' } }),
  fieldOf('arrival', 'date'),
  fieldOf('dues', 'decimal'),
  fieldOf('waived', 'yesNo'),
  fieldOf('reason', 'text'),
]);
const ledger = tableOf('ledger', [
  fieldOf('stay', 'link', { required: true, settings: { table: 'stays' } }),
  fieldOf('before', 'yesNo'),
  fieldOf('after', 'yesNo'),
  fieldOf('by', 'text', { required: true }),
  fieldOf('at', 'dateTime'),
  fieldOf('dues', 'decimal'),
  fieldOf('what', 'text', { settings: { mostLength: 60 } }),
]);
const tables = new Map([owners, stays, ledger].map((table) => [table.id, table]));

const add: RippleEffect = {
  does: 'add',
  table: 'ledger',
  values: [
    { to: 'stay', from: { kind: 'record' } },
    { to: 'before', from: { kind: 'field', path: 'before__waived' } },
    { to: 'after', from: { kind: 'field', path: 'waived' } },
    { to: 'by', from: { kind: 'account' } },
    { to: 'at', from: { kind: 'now' } },
    { to: 'dues', from: { kind: 'calculation', source: 'dues - before__dues' } },
    { to: 'what', from: { kind: 'summary' } },
  ],
};
const rippleOf = (more: object = {}): Ripple =>
  rippleSchema.parse({
    id: 'waivers',
    label: 'Waivers',
    on: ['added', 'changed'],
    when: { kind: 'group', match: 'any', of: [is(form('waived'), yes), is(form('before__waived'), yes)] },
    effects: [add],
    ...more,
  });
const ready = (ripple: Ripple, of = tables): PreparedRipple => {
  const prepared = prepareRipple(ripple, stays, of);
  if ('problems' in prepared) throw new Error(prepared.problems[0]?.message);
  return prepared;
};
const wrongWith = (ripple: Ripple, of = tables): string[] => {
  const prepared = prepareRipple(ripple, stays, of);
  return 'problems' in prepared ? prepared.problems.map((one) => one.message) : [];
};

const save = (before: Values | null, after: Values, more: Partial<RippleEvent> = {}): RippleEvent => {
  const blank = Object.fromEntries(stays.fields.map((field) => [field.id, null]));
  const changed = Object.keys(after).filter((id) => (before?.[id] ?? null) !== after[id]);
  return {
    kind: before === null ? 'added' : 'changed',
    record: 7,
    title: 'STAY-2026-00007',
    changes: changed.map((field) => ({
      field,
      label: field,
      before: String(before?.[field] ?? ''),
      after: String(after[field] ?? ''),
      was: null,
    })),
    changed: new Set(changed),
    values: eventValues(before && { ...blank, ...before }, { ...blank, ...after }),
    facts: {},
    titles: new Map(),
    account: 'quayclerk',
    now: '2026-08-17T15:30',
    ...more,
  };
};

beforeAll(loadExpressions);

describe('a ripple', () => {
  test('follows a save by its kind, the fields that changed, and what stood there before and after', () => {
    const { follows } = ready(rippleOf({ fields: ['waived', 'reason'] }));
    expect(follows(save(null, { waived: true }))).toBe(true);
    expect(follows(save(null, { waived: false }))).toBe(false);
    expect(follows(save({ waived: true }, { waived: false }))).toBe(true);
    expect(follows(save({ waived: true, dues: 4 }, { waived: true, dues: 5 }))).toBe(false);
    expect(follows(save({ waived: true }, { waived: true, reason: 'storm' }))).toBe(true);
    expect(follows(save({ waived: true }, { waived: false }, { kind: 'archived' }))).toBe(false);
    expect(ready(rippleOf({ paused: true })).follows(save(null, { waived: true }))).toBe(false);
  });

  test('writes values of before and after, constants, the account, the moment, calculations and the change in words', () => {
    const [effect] = ready(rippleOf()).effects;
    if (effect?.does !== 'add') throw new Error('It adds a line');
    expect(effect.valuesOf(save({ waived: false, dues: 4 }, { waived: true, dues: 10, reason: 'storm' }))).toEqual({
      stay: 7,
      before: false,
      after: true,
      by: 'quayclerk',
      at: '2026-08-17T15:30',
      dues: 6,
      // Cut to what the field holds.
      what: 'STAY-2026-00007 changed. waived: false → true; dues: 4 → 10…',
    });
  });

  test('reads what its links point at, and sends messages with values in their places', () => {
    const message: RippleEffect = {
      does: 'message',
      to: { kind: 'field', path: 'owner.e_mail' },
      subject: 'Dues of {number}',
      text: 'Dear {owner.name}, {change} by {account}. Before: {before__dues}, {constructor}',
    };
    expect(wrongWith(rippleOf({ effects: [message] }))).toEqual([
      '{constructor} is not a field of stays. Correct it, or take the braces away.',
    ]);
    const { effects, reads } = ready(
      rippleOf({ effects: [{ ...message, text: message.text.replace(', {constructor}', '') }] }),
    );
    expect(reads).toEqual(['owner.e_mail', 'owner.name']);
    const [effect] = effects;
    if (effect?.does !== 'message') throw new Error('It sends a message');
    const event = save(
      { dues: 4, owner: 3, number: 'STAY-1' },
      { dues: 5, owner: 3, number: 'STAY-1' },
      { facts: { owner: { name: 'Ise', e_mail: 'ise@tern.example' } } },
    );
    expect(effect.receiverOf(event)).toEqual({ address: 'ise@tern.example' });
    expect(effect.messageOf(event)).toEqual({
      subject: 'Dues of STAY-1',
      body: 'Dear Ise, STAY-2026-00007 changed. dues: 4 → 5 by quayclerk. Before: 4.00',
    });
    expect(effect.receiverOf(save(null, { owner: null }))).toBeNull();
  });

  test('reads as a sentence', () => {
    expect(rippleWords(rippleOf({ fields: ['waived'] }), stays, tables)).toBe(
      'When a record of stays is added or changed (a change counts where waived changes), and waived is yes or waived before is yes: ' +
        'add a line to ledger with stay = this record of stays, before = waived before, after = waived, by = who saved, ' +
        'at = when it was saved, dues = dues - before__dues, and what = what changed, in words.',
    );
  });
});

describe('what cannot run is said while it is built', () => {
  const values = (...of: object[]) => ({ effects: [{ ...add, values: of }] });
  const by = { to: 'by', from: { kind: 'account' } };
  const stay = { to: 'stay', from: { kind: 'record' } };
  test.each<[string, object, string]>([
    ['a required field without a source', values(stay), 'by of ledger is required. Say what it gets.'],
    [
      'a field of another type',
      values(stay, by, { to: 'at', from: { kind: 'field', path: 'dues' } }),
      'dues is a decimal',
    ],
    [
      'a field that has gone',
      values(stay, by, { to: 'berth', from: { kind: 'now' } }),
      'berth is not a field of ledger any more.',
    ],
    ['a link to another table', values(by, { to: 'stay', from: { kind: 'field', path: 'owner' } }), 'owner is a link'],
    ['a field twice', values(stay, by, by), 'by is written twice.'],
    [
      'an account in a number',
      values(stay, by, { to: 'dues', from: { kind: 'account' } }),
      'which cannot hold an account.',
    ],
    ['a table that has gone', { effects: [{ ...add, table: 'gone' }] }, 'gone is not a table any more.'],
    ['a link that is none', { effects: [{ does: 'change', link: 'dues', values: [by] }] }, 'dues is no link'],
    [
      'a condition on a field that has gone',
      { when: all(is(form('before__gone'), yes)) },
      'before__gone is not a field of stays.',
    ],
    [
      'sides that never meet',
      { when: all(is(form('waived'), form('dues'))) },
      'waived is a yes/no and cannot be compared',
    ],
    [
      'a formula that cannot be read',
      values(stay, by, { to: 'dues', from: { kind: 'calculation', source: 'dues +' } }),
      '',
    ],
  ])('%s', (_what, more, message) => {
    const wrong = wrongWith(rippleOf(more));
    expect(wrong.length).toBeGreaterThan(0);
    expect(wrong.join(' ')).toContain(message);
  });
});

describe('ripples in a circle', () => {
  const linked = (id: string, to: string, ripples: readonly Ripple[] = []): TableDefinition =>
    tableOf(
      id,
      [fieldOf('next', 'link', { settings: { table: to } }), fieldOf('note', 'text'), fieldOf('other', 'text')],
      {
        ripples,
      },
    );
  const adds = (table: string, on: Ripple['on']): Ripple =>
    rippleOf({
      id: `to_${table}`,
      label: `To ${table}`,
      on,
      when: EVERYTHING,
      effects: [{ does: 'add', table, values: [{ to: 'note', from: { kind: 'summary' } }] }],
    });
  const changes = (to: string, fields: string[] = []): Ripple =>
    rippleOf({
      label: `Changes ${to}`,
      on: ['changed'],
      fields,
      when: EVERYTHING,
      effects: [{ does: 'change', link: 'next', values: [{ to, from: { kind: 'now' } }] }],
    });
  const circle = (...of: TableDefinition[]) => rippleCircle(new Map(of.map((table) => [table.id, table])));

  test('are found over three tables, and not where nothing sets off the first again', () => {
    const three = [linked('a', 'b', [adds('b', ['added'])]), linked('b', 'c', [adds('c', ['added'])])];
    expect(circle(...three, linked('c', 'a', [adds('a', ['added'])]))).toBe(
      'To b (a) → To c (b) → To a (c) → To b (a)',
    );
    expect(circle(...three, linked('c', 'a', [adds('a', ['archived'])]))).toBeUndefined();
  });

  test('are found in a table that links to itself, unless it is limited to other fields', () => {
    expect(circle(linked('a', 'a', [changes('note')]))).toContain('Changes note (a)');
    expect(circle(linked('a', 'a', [changes('note', ['other'])]))).toBeUndefined();
    expect(circle(linked('a', 'a', [changes('note', ['note'])]))).toBeDefined();
  });

  test('are exactly those of the graph, whatever the tables', () => {
    const ids = ['a', 'b', 'c', 'd', 'e'];
    fc.assert(
      fc.property(fc.array(fc.tuple(fc.constantFrom(...ids), fc.constantFrom(...ids)), { maxLength: 8 }), (edges) => {
        const made = ids.map((id) => {
          const out = edges.filter(([from]) => from === id).map(([, to]) => to);
          return linked(
            id,
            id,
            [...new Set(out)].map((to) => adds(to, ['added'])),
          );
        });
        // Taking away tables that lead nowhere leaves nothing exactly where there is no circle.
        let left = new Set(ids);
        for (let before = -1; before !== left.size; ) {
          before = left.size;
          left = new Set([...left].filter((id) => edges.some(([from, to]) => from === id && left.has(to))));
        }
        expect(circle(...made) !== undefined).toBe(left.size > 0);
      }),
    );
  });
});

test('values are proposed that link back, have equal labels and fitting types, or are required', () => {
  expect(proposeValues(stays, ledger, tables)).toEqual([
    { to: 'stay', from: { kind: 'record' } },
    { to: 'by', from: { kind: 'account' } },
    { to: 'dues', from: { kind: 'field', path: 'dues' } },
  ]);
  // What is proposed fits, whatever the tables.
  for (const source of tables.values())
    for (const target of tables.values())
      for (const value of proposeValues(source, target, tables))
        expect(sourceMisfit(value, source, target, tables)).toBeUndefined();
  expect(sourceMisfit({ to: 'dues', from: { kind: 'field', path: 'reason' } }, stays, ledger, tables)).toContain(
    'dues',
  );
});
