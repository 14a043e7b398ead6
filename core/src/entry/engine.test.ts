import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { all, type Condition, is } from '../conditions/index.ts';
import type { Values } from '../fields/index.ts';
import { type DefinedForm, generateForm, isField, type PlacedField, prepareForm } from '../forms/index.ts';
import type { Rule } from '../rules/index.ts';
import type { TableDefinition } from '../tables/index.ts';
import { Desk, foundFor, opening, partsOf } from './fixtures/desk.ts';
import { answer, column, form, records, stayForm, tables } from './fixtures/harbour.ts';
import {
  askedRules,
  changesOf,
  type EntryState,
  isRequired,
  openEntry,
  originsOf,
  problemsOf,
  readable,
  reduceEntry,
  submission,
  submitEntry,
  visibleProblems,
} from './index.ts';

const constant = (value: string | number | boolean) => ({ kind: 'constant' as const, value });
const when = (field: string, value: string) => all(is(form(field), constant(value)));
const withFields =
  (own: Record<string, Partial<PlacedField>>, rules: Rule[] = []) =>
  (definition: DefinedForm): DefinedForm => ({
    ...definition,
    sections: definition.sections.map((section) => ({
      ...section,
      items: section.items.map((item) => (isField(item) ? { ...item, ...own[item.field] } : item)),
    })),
    rules: [...definition.rules, ...rules],
  });
const desk = (own: Record<string, Partial<PlacedField>>, rules: Rule[] = []): Desk =>
  new Desk(stayForm(withFields(own, rules)));
const rule = (more: Partial<Rule> & Pick<Rule, 'must'>): Rule => ({
  id: 'extra',
  kind: 'stop',
  when: null,
  at: 'note',
  message: 'Not so.',
  examples: [],
  ...more,
});
const rules = (one: { state: EntryState }): string[] => problemsOf(one.state).map((problem) => problem.rule);

/** What the server makes of what the desk sends. */
function decided(one: Desk, values: Record<string, unknown> = submission(one.state).values): EntryState {
  const step = submitEntry(one.state.form, opening, { ...submission(one.state), values });
  let { state } = step;
  const open = [...step.requests];
  for (let request = open.shift(); request; request = open.shift()) {
    const event = answer(readable(state), request);
    const next = event && reduceEntry(state, event);
    state = next?.state ?? state;
    open.push(...(next?.requests ?? []));
  }
  return state;
}

describe('shown when', () => {
  const own = {
    phone: { shownWhen: when('note', 'call'), required: true },
    length: {
      shownWhen: all({ kind: 'compare', left: form('phone'), operator: 'isNotBlank' }),
    } as Partial<PlacedField>,
  };
  test('a hidden field is not required, not checked and not saved, and keeps what was typed for when it shows', () => {
    const one = desk(own);
    expect(one.state.hidden).toEqual({ phone: true, length: true });
    expect(rules(one)).toEqual(['required']);
    one.type('note', 'call').type('phone', '0555').type('length', '5');
    expect(one.state.hidden).toEqual({});
    one.type('note', 'no');
    // What hangs on a hidden field sees it as blank, so the third is hidden with the second.
    expect(one.state.hidden).toEqual({ phone: true, length: true });
    expect(submission(one.state).values).toMatchObject({ phone: null, length: null });
    expect(changesOf(decided(one, { harbour: 1, note: 'no', phone: '0555', length: 5 }))).toEqual({
      harbour: 1,
      note: 'no',
    });
    expect(one.type('note', 'call').state.values.phone).toBe('0555');
  });

  test('a rule of the table holds where its field is hidden, and what a hidden field keeps is held to its limits', () => {
    const stays = tables.get('stays') as TableDefinition;
    const short = rule({
      at: 'length',
      must: { kind: 'compare', left: form('length'), operator: 'atMost', right: constant(6) },
    });
    const held: TableDefinition = {
      ...stays,
      rules: [short],
      fields: stays.fields.map((field) =>
        field.id === 'length' ? { ...field, settings: { ...field.settings, most: 20 } } : field,
      ),
    };
    const formOf = (keepHidden: boolean) =>
      prepareForm(
        withFields({ length: { shownWhen: when('note', 'x'), keepHidden, required: true } })(generateForm(held)),
        new Map(tables).set('stays', held),
      );
    const sent = (keepHidden: boolean, length: number | null) =>
      problemsOf(submitEntry(formOf(keepHidden), opening, { values: { harbour: 1, length } }).state).map(
        ({ path, rule: one }) => `${path} ${one}`,
      );
    expect(sent(true, 5)).toEqual([]);
    expect(sent(true, 7)).toEqual(['length extra']);
    expect(sent(true, 30)).toEqual(['length most', 'length extra']);
    expect(sent(true, null)).toEqual([]);
    expect(sent(false, 30)).toEqual([]);
  });

  test('a field that keeps its value while hidden is saved, and read by others', () => {
    const one = desk({ ...own, phone: { ...own.phone, keepHidden: true } });
    one.type('note', 'call').type('phone', '0555').type('note', 'no');
    expect(one.state.hidden).toEqual({ phone: true });
    expect(submission(one.state).values.phone).toBe('0555');
  });

  test('a hidden parent narrows nothing, and clears what was tied to it', () => {
    const one = desk({ pontoon: { ...PONTOON, shownWhen: when('note', 'x') } });
    one.type('note', 'x').choose('harbour', 1).choose('pontoon', 11).choose('berth', 112).settle();
    one.type('note', 'y').settle();
    expect(one.state.values.berth).toBeNull();
    expect(one.state.fields.berth?.notice).toContain('“A-2” was cleared');
  });
});
const PONTOON: Partial<PlacedField> = {
  narrowing: { where: all(is(column('harbour'), form('harbour'))), sort: null, show: [], only: false },
};

test('required when holds exactly while its condition does', () => {
  const one = desk({ phone: { requiredWhen: when('note', 'call') } });
  const phone = one.state.form.fields.get('phone');
  const needs = (): boolean => phone !== undefined && isRequired(one.state, phone);
  expect(needs()).toBe(false);
  expect(one.type('note', 'call') && needs()).toBe(true);
  expect(one.type('note', 'x') && needs()).toBe(false);
});

describe('calculations', () => {
  test('follow what they read, through links and one another, and are worked out again by the server', () => {
    const one = desk({
      length: { calculation: 'berth.longest - 1.0' },
      note: { calculation: 'string(length) + " m"' },
    });
    one.choose('harbour', 1).choose('pontoon', 11).choose('berth', 112).settle();
    expect(one.state.values).toMatchObject({ length: 11, note: '11 m' });
    expect(decided(one, { harbour: 1, pontoon: 11, berth: 112, length: 3 }).values).toMatchObject({ length: 11 });
    one.choose('berth', null).settle();
    expect(one.state.values).toMatchObject({ length: null, note: null });
  });

  test('a calculated default is followed until somebody types', () => {
    const one = desk({ phone: { initial: { kind: 'calculation', source: '"re " + note' } } });
    expect(one.type('note', 'a').state.values.phone).toBe('re a');
    expect(one.type('note', 'b').state.values.phone).toBe('re b');
    one.type('phone', 'mine').type('note', 'c');
    expect(one.state.values.phone).toBe('mine');
    expect(decided(one, { harbour: 1, note: 'd' }).values.phone).toBe('re d');
  });

  test('of a table are carried by a form that does not show them', () => {
    const stays = tables.get('stays') as TableDefinition;
    const counted: TableDefinition = {
      ...stays,
      fields: stays.fields.map((field) => (field.id === 'note' ? { ...field, calculation: 'phone + "!"' } : field)),
    };
    const made = generateForm(counted);
    const without = {
      ...made,
      sections: made.sections.map((section) => ({
        ...section,
        items: section.items.filter((item) => isField(item) && item.field !== 'note'),
      })),
    };
    const one = new Desk(prepareForm(without, new Map(tables).set('stays', counted)));
    one.type('phone', '1');
    expect(one.state.values.note).toBe('1!');
    expect(changesOf(decided(one, { harbour: 1, phone: '2' })).note).toBe('2!');
    expect(problemsOf(decided(one, { harbour: 1, note: 'x' })).map((problem) => problem.rule)).toEqual(['field']);
  });
});

describe('rules', () => {
  test('are only asked under their condition, and an expression like a sentence', () => {
    const short = rule({
      when: when('note', 'Tender'),
      at: 'length',
      must: { kind: 'compare', left: form('length'), operator: 'atMost', right: constant(6) },
    });
    const one = desk({}, [short]).type('length', '7');
    expect(rules(one)).not.toContain('extra');
    expect(rules(one.type('note', 'Tender'))).toContain('extra');
    const said = rule({ at: 'length', must: { kind: 'expression', source: 'note != "Tender" || length <= 6.0' } });
    expect(rules(desk({}, [said]).type('length', '7'))).not.toContain('extra');
    expect(rules(desk({}, [said]).type('length', '7').type('note', 'Tender'))).toContain('extra');
    expect(rules(desk({}, [said]).type('length', '5').type('note', 'Tender'))).not.toContain('extra');
  });

  const asks = rule({
    kind: 'ask',
    at: 'phone',
    must: { kind: 'compare', left: form('phone'), operator: 'is', right: form('note') },
  });
  test('that ask let an entry through once a reason is given, here and on the server', () => {
    const one = desk({}, [asks]).choose('harbour', 1).settle().type('note', 'a').type('phone', 'b');
    expect(problemsOf(one.state)).toEqual([{ path: 'phone', rule: 'extra', message: 'Not so.', asks: true }]);
    expect(one.do({ type: 'savePressed' }).saves).toEqual([]);
    one.do({ type: 'reasonGiven', rule: 'extra', reason: '  ' });
    expect(one.do({ type: 'savePressed' }).saves).toEqual([]);
    one.do({ type: 'reasonGiven', rule: 'extra', reason: 'They agreed by phone.' }).do({ type: 'savePressed' });
    expect(one.saves[0]).toMatchObject({ reasons: { extra: 'They agreed by phone.' } });
    expect(problemsOf(decided(one))).toEqual([]);
    const silent = submitEntry(one.state.form, opening, { values: submission(one.state).values });
    expect(problemsOf(silent.state).map((problem) => problem.asks)).toContain(true);
  });

  test('that something blank breaks say so once a person was there, or presses Save', () => {
    const named = rule({
      kind: 'ask',
      at: 'phone',
      must: { kind: 'compare', left: form('phone'), operator: 'isNotBlank' },
    });
    const one = desk({}, [named]);
    const shown = () => visibleProblems(one.state).map((problem) => problem.rule);
    expect(rules(one)).toContain('extra');
    expect(shown()).toEqual([]);
    one.do({ type: 'left', field: 'phone' });
    expect(shown()).toEqual(['extra']);
    expect(visibleProblems(desk({}, [named]).do({ type: 'savePressed' }).state).map(({ rule: by }) => by)).toContain(
      'extra',
    );
  });

  test('that ask are not asked again of a change that does not touch them', () => {
    const record = { id: 1, version: 1, linked: {}, values: { harbour: 1, note: 'a', phone: 'b' } };
    const { state } = openEntry(stayForm(withFields({}, [asks])), { ...opening, record });
    expect(askedRules(state)).toEqual([]);
    const typed = reduceEntry(state, { type: 'typed', field: 'phone', text: 'c' }).state;
    expect(askedRules(typed).map(({ rule: one }) => one.id)).toEqual(['extra']);
  });
});

describe('fills', () => {
  const fill = (
    policy: 'replace' | 'keep' | 'ask',
    whenNone: 'message' | 'offer' | 'refuse' = 'message',
  ): Partial<PlacedField> => ({
    fill: {
      table: 'vessels',
      key: 'registration',
      whenNone,
      pairs: [
        { from: 'self', to: 'vessel', policy: 'replace' },
        { from: 'length', to: 'length', policy },
      ],
    },
  });

  test('a key that finds nothing can offer to add it; once it is there, it is looked up again', () => {
    const desk = new Desk(stayForm(withFields({ registration: fill('replace', 'offer') })));
    desk.type('registration', 'GS-0777').settle();
    expect(desk.state.fields.registration?.lookupFailure).toMatchObject({ adds: true, stops: false });
    const vessels = records.vessels as Record<number, Values>;
    vessels[7] = { name: 'Whimbrel', registration: 'GS-0777', length: 7.4, owner: null };
    try {
      desk.do({ type: 'lookUpAgain', field: 'registration' }).settle();
    } finally {
      delete vessels[7];
    }
    expect(desk.state.values).toMatchObject({ vessel: 7, length: 7.4 });
    expect(desk.state.fields.registration?.lookupFailure).toBeUndefined();
  });

  test('that ask leave a value that is there until a person takes theirs', () => {
    const one = desk({ registration: fill('ask') })
      .type('length', '3')
      .type('registration', 'GS-0421')
      .settle();
    expect(one.state.values.length).toBe(3);
    expect(one.state.fields.length?.offer).toMatchObject({ value: 11.2 });
    expect(partsOf(one.do({ type: 'offerAnswered', field: 'length', take: false }).state, 'offer')).toEqual({});
    one.type('registration', 'GS-0007').settle().do({ type: 'offerAnswered', field: 'length', take: true });
    expect(one.state.values.length).toBe(6);
    expect(one.state.fields.length?.origin).toMatchObject({ by: 'registration', value: 6, record: 6 });
  });

  test('remember what was typed over and fill it again when wanted', () => {
    const one = desk({ registration: fill('replace') })
      .type('registration', 'GS-0421')
      .settle()
      .type('length', '9');
    expect(one.state.fields.length?.origin).toMatchObject({ value: 11.2 });
    expect(originsOf(decided(one)).length).toMatchObject({ value: 11.2, table: 'vessels', record: 5, from: 'length' });
    expect(one.do({ type: 'refilled', field: 'length' }).state.values.length).toBe(11.2);
  });

  test('whose source says something else today are taken over with one event, and remembered as such', () => {
    const origin = {
      by: 'registration',
      value: 11.2,
      table: 'vessels',
      record: 5,
      title: 'x',
      from: 'length',
      now: 12,
    };
    const record = { id: 1, version: 1, linked: {}, values: { harbour: 1, length: 11.2 }, origins: { length: origin } };
    const one = new Desk(stayForm(withFields({ registration: fill('replace') })), { ...opening, record });
    one.do({ type: 'refilled', field: 'length' });
    expect(one.state.values.length).toBe(12);
    expect(originsOf(one.state).length).toEqual({ ...origin, value: 12, now: undefined });
    const sent = submitEntry(one.state.form, { ...opening, record }, { values: { length: 12 } });
    expect(originsOf(sent.state).length).toMatchObject({ value: 12 });
  });

  test('of a key that several records have wait for a person to choose, and the server takes that one', () => {
    const vessels = records.vessels as Record<number, Record<string, unknown>>;
    vessels[7] = { name: 'Second Tystie', registration: 'GS-0007', length: 8, owner: null };
    try {
      const one = desk({ registration: fill('replace', 'refuse') })
        .choose('harbour', 1)
        .type('registration', 'GS-0007')
        .settle();
      expect(one.state.values.vessel).toBeNull();
      expect(rules(one)).toContain('lookup');
      expect(foundFor(one.state, 'registration')?.map((found) => found.id)).toEqual([6, 7]);
      one.do({ type: 'matchPicked', field: 'registration', id: 7 });
      expect(one.state.values).toMatchObject({ vessel: 7, length: 8 });
      expect(rules(one)).toEqual([]);
      const { vessel, ...open } = submission(one.state).values;
      expect(decided(one, open).values).toMatchObject({ vessel: 7, length: 8 });
    } finally {
      delete vessels[7];
    }
  });
});

test('the only choice left is chosen by itself, once everything that narrows it is there', () => {
  const only = { narrowing: { where: all(is(column('pontoon'), form('pontoon'))), sort: null, show: [], only: true } };
  const one = desk({ berth: only }).choose('harbour', 1).settle();
  expect(one.state.values.berth).toBeNull();
  one.choose('pontoon', 12).settle();
  expect(one.state.values.berth).toBe(121);
  expect(one.state.fields.berth?.notice).toContain('the only choice left');
  one.choose('pontoon', 11).settle();
  expect(one.state.values.berth).toBeNull();
  expect(decided(one, { harbour: 1, pontoon: 12 }).values.berth).toBe(121);
  expect(decided(one, { harbour: 1, pontoon: 12, berth: null }).values.berth).toBeNull();
});

describe('what is computed anew after an event is what would be computed from nothing', () => {
  const words = ['', 'a', 'b'];
  const condition: fc.Arbitrary<Condition> = fc
    .tuple(
      fc.constantFrom('note', 'phone', 'registration'),
      fc.constantFrom('is', 'isNot', 'isBlank'),
      fc.constantFrom('a', 'b'),
    )
    .map(([field, operator, value]) =>
      operator === 'isBlank'
        ? { kind: 'compare', left: form(field), operator: 'isBlank' }
        : { kind: 'compare', left: form(field), operator: operator as 'is', right: constant(value) },
    );
  const group = fc
    .tuple(
      fc.constantFrom('all' as const, 'any' as const, 'none' as const),
      fc.array(condition, { minLength: 1, maxLength: 3 }),
    )
    .map(([match, of]) => ({ kind: 'group' as const, match, of }));
  const typed = fc.tuple(fc.constantFrom('note', 'phone', 'registration', 'length'), fc.constantFrom(...words, '7'));
  test('over generated conditions, rules and keystrokes', () => {
    fc.assert(
      fc.property(group, group, group, fc.boolean(), fc.array(typed, { maxLength: 8 }), (a, b, c, keep, keys) => {
        const one = desk(
          {
            arrival: { shownWhen: a, keepHidden: keep },
            departure: { requiredWhen: b },
            // What is calculated reads a field that may be hidden.
            length: { calculation: 'blank(phone) ? 1 : 2', shownWhen: c },
          },
          [rule({ must: b, when: c }), rule({ id: 'second', must: a })],
        );
        for (const [field, text] of keys) one.do({ type: 'typed', field, text });
        const derived = (state: EntryState) => ({
          hidden: state.hidden,
          conditionallyRequired: partsOf(state, 'conditionallyRequired'),
          broken: state.broken,
          values: state.values,
        });
        const record = { id: 1, version: 1, linked: {}, values: one.state.values };
        const anew = openEntry(one.state.form, { ...opening, record }).state;
        expect(derived(one.state)).toEqual(derived(anew));
      }),
    );
  });
});
