import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import type { Value } from '../fields/index.ts';
import { generateForm, prepareForm } from '../forms/index.ts';
import type { TableDefinition } from '../tables/index.ts';
import { Desk, opening } from './fixtures/desk.ts';
import { answer, choicesOf, stayForm, tables } from './fixtures/harbour.ts';
import {
  carryOver,
  checksOf,
  type EntryState,
  isBusy,
  problemsOf,
  readable,
  reduceEntry,
  submission,
  submitEntry,
} from './index.ts';

const offered = (desk: Desk, field: string): Value[] => choicesOf(readable(desk.state), field).map((one) => one.value);

describe('narrowing', () => {
  test('each level is narrowed by the one before', () => {
    const desk = new Desk().choose('harbour', 1).settle();
    expect(offered(desk, 'pontoon')).toEqual([11, 12]);
    expect(offered(desk.choose('pontoon', 12).settle(), 'berth')).toEqual([121]);
  });

  test('every ancestor counts, also across a blank one', () => {
    expect(offered(new Desk().choose('harbour', 1).settle(), 'berth')).toEqual([111, 112, 121]);
  });

  test('a changed parent clears what no longer applies, down to the last, and says what it was', () => {
    const desk = new Desk().choose('harbour', 1).choose('pontoon', 11).choose('berth', 112).settle();
    desk.choose('harbour', 2).settle();
    expect(desk.state.values).toMatchObject({ harbour: 2, pontoon: null, berth: null });
    expect(desk.state.fields.pontoon?.notice).toBe('“A” was cleared: it does not belong to “Tern Cove”.');
    expect(desk.state.fields.berth?.notice).toContain('“A-2” was cleared');
  });

  test('a child that still applies stays', () => {
    const desk = new Desk().choose('harbour', 1).choose('pontoon', 11).choose('harbour', 1).settle();
    expect(desk.state.values.pontoon).toBe(11);
  });

  test('a child chosen first fills its parents, and theirs', () => {
    const desk = new Desk().choose('berth', 211).settle();
    expect(desk.state.values).toMatchObject({ harbour: 2, pontoon: 21, berth: 211 });
    expect(desk.state.linked.harbour?.title).toBe('Tern Cove');
  });

  test('a word that stands under two branches of an option list is kept apart by all levels above', () => {
    const reports = tables.get('reports') as TableDefinition;
    const desk = new Desk(prepareForm(generateForm(reports), tables));
    desk.choose('system', 'Shore').choose('part', 'Lighting').settle();
    expect(offered(desk, 'defect')).toEqual(['Lamp out']);
    desk.choose('defect', 'Lamp out').choose('system', 'Pontoon').settle();
    expect(desk.state.values).toMatchObject({ system: 'Pontoon', part: 'Lighting', defect: null });
    expect(desk.state.fields.defect?.notice).toContain('“Lamp out” was cleared');
  });
});

describe('fills', () => {
  test('a typed key fills the record, its columns and those of its links', () => {
    const desk = new Desk().type('registration', 'GS-0421').settle();
    expect(desk.state.values).toMatchObject({ vessel: 5, length: 11.2, phone: '0555 014 220' });
    expect(desk.state.linked.vessel?.title).toBe('Kittiwake Rose');
    expect(desk.state.fields.length?.origin).toEqual({
      by: 'registration',
      value: 11.2,
      table: 'vessels',
      record: 5,
      title: 'Kittiwake Rose',
      from: 'length',
    });
  });

  test('an unknown key says so and takes back what the former one filled, but not what a person typed', () => {
    const desk = new Desk()
      .type('registration', 'GS-0421')
      .settle()
      .type('length', '9')
      .type('registration', 'GS-9999')
      .settle();
    expect(desk.state.values).toMatchObject({ vessel: null, length: 9, phone: null });
    expect(desk.state.fields.registration?.lookupFailure?.message).toBe('No record of vessels has this registration.');
  });

  test('“keep” leaves a value that is there', () => {
    const desk = new Desk().type('phone', '0555 000 000').type('registration', 'GS-0421').settle();
    expect(desk.state.values.phone).toBe('0555 000 000');
  });

  test('nothing happens to other fields while the key is being typed', () => {
    const desk = new Desk().do({ type: 'typed', field: 'registration', text: 'GS-0' });
    expect(desk.open).toEqual([]);
  });
});

describe('checks', () => {
  test('a broken rule stands at its field; text that cannot be read is kept', () => {
    const desk = new Desk().type('arrival', '19 Aug 2026 10:00').type('departure', '17 Aug 2026 10:00');
    expect(problemsOf(desk.state)).toContainEqual({
      path: 'departure',
      rule: 'after',
      message: 'Departure must be after arrival.',
    });
    desk.type('departure', '31 Feb 2026 10:00');
    expect(desk.state.fields.departure?.unparsed?.text).toBe('31 Feb 2026 10:00');
    expect(problemsOf(desk.state).find((one) => one.path === 'departure')?.message).toContain('no such day');
  });

  test('a rule reads the linked record', () => {
    const desk = new Desk().choose('berth', 111).settle().type('length', '9');
    expect(problemsOf(desk.state).map((one) => one.rule)).toEqual(['fits']);
  });

  test('Save waits for the lookups, and a second press sends nothing more', () => {
    const desk = new Desk().choose('harbour', 1).do({ type: 'typed', field: 'registration', text: 'GS-0421' });
    desk.do({ type: 'savePressed' }).do({ type: 'savePressed' });
    expect(desk.saves).toEqual([]);
    desk.settle().do({ type: 'savePressed' });
    expect(desk.saves).toHaveLength(1);
    expect(desk.saves[0]).toMatchObject({ values: { harbour: 1, length: 11.2 } });
  });

  test('Save is not sent while something stands against it', () => {
    const desk = new Desk().do({ type: 'savePressed' }).settle();
    expect(desk.saves).toEqual([]);
    expect(desk.state.phase.kind).toBe('open');
    expect(problemsOf(desk.state).map((one) => one.path)).toEqual(['harbour']);
  });

  test('reset puts back what was there', () => {
    const desk = new Desk().choose('berth', 211).type('note', 'x').settle().do({ type: 'reset' });
    expect(desk.state.values).toEqual(desk.state.original);
  });
});

describe('trouble on the way', () => {
  test('text that no choice answers to is kept, stops the save, and gives way to a choice', () => {
    const desk = new Desk().do({ type: 'unmatched', field: 'harbour', text: 'Atlantis' });
    expect(desk.state.fields.harbour?.unparsed?.text).toBe('Atlantis');
    expect(desk.do({ type: 'savePressed' }).settle().saves).toEqual([]);
    expect(problemsOf(desk.state)[0]?.message).toContain('No choice is called “Atlantis”');
    expect(problemsOf(desk.choose('harbour', 1).settle().state)).toEqual([]);
  });

  test('a lookup without an answer is asked again when its field is left again', () => {
    const desk = new Desk().type('registration', 'GS-0421');
    const [asked] = desk.open.splice(0);
    desk.do({ type: 'failed', kind: 'keyLookup', field: 'registration', number: asked?.request.number ?? 0 });
    expect(desk.state.fields.registration?.lookupFailure?.message).toContain('did not answer');
    expect(desk.do({ type: 'left', field: 'registration' }).settle().state.values.length).toBe(11.2);
  });

  test('a save without an answer can be pressed again; what the server refused stands at its field until it changes', () => {
    const desk = new Desk().choose('harbour', 1).settle().do({ type: 'savePressed' });
    desk.do({ type: 'saveFailed', number: desk.saves[0]?.number ?? 0 }).do({ type: 'savePressed' });
    expect(desk.saves).toHaveLength(2);
    desk.do({ type: 'refused', problems: [{ path: 'note', rule: 'unique', message: 'There is one already.' }] });
    expect(problemsOf(desk.state).map((one) => one.path)).toEqual(['note']);
    expect(problemsOf(desk.type('note', 'x').state)).toEqual([]);
  });

  test('what cannot be written on the form is not written by an event either', () => {
    expect(new Desk().do({ type: 'changed', field: 'vessel', value: 5 }).state.values.vessel).toBeNull();
  });

  test('a changed definition keeps what was entered', () => {
    const desk = new Desk().choose('berth', 112).type('registration', 'GS-0421').settle();
    const next = stayForm((form) => ({ ...form, label: 'Another', rules: [] }));
    const carried = carryOver(next, desk.state).state;
    expect(carried.values).toEqual(desk.state.values);
    expect(carried.linked.vessel?.title).toBe('Kittiwake Rose');
    expect(carried.form).toBe(next);
  });
});

const acts: fc.Arbitrary<(desk: Desk) => void> = fc.oneof(
  fc.constantFrom('harbour', 'pontoon', 'berth').chain((field) =>
    fc.nat(5).map((n) => (desk: Desk) => {
      const offers = [null, ...offered(desk, field)];
      desk.choose(field, offers[n % offers.length] ?? null);
    }),
  ),
  fc.constantFrom('GS-0421', 'GS-0007', 'GS-1', '').map((key) => (desk: Desk) => void desk.type('registration', key)),
  fc.constantFrom('5', '11', '').map((length) => (desk: Desk) => void desk.type('length', length)),
);

describe('the order in which answers arrive does not matter', () => {
  test('answers to one and the same conversation, in any order, settle in the same state', () => {
    fc.assert(
      fc.property(fc.array(acts, { maxLength: 6 }), acts, fc.infiniteStream(fc.nat(20)), (before, last, picks) => {
        const run = (pick: () => number): EntryState => {
          const desk = new Desk();
          for (const act of before) {
            act(desk);
            desk.settle();
          }
          last(desk);
          return desk.settle(pick).state;
        };
        const shuffled = run(() => picks.next().value);
        expect(shuffled.values).toEqual(run(() => 0).values);
        expect(isBusy(shuffled)).toBe(false);
      }),
    );
  });

  test('late answers to earlier keys never overwrite what the last key filled', () => {
    fc.assert(
      fc.property(
        fc.array(fc.constantFrom('GS-0421', 'GS-0007', 'GS-1'), { minLength: 1, maxLength: 5 }),
        fc.infiniteStream(fc.nat(20)),
        (keys, picks) => {
          const eager = new Desk();
          for (const key of keys) eager.type('registration', key);
          const calm = new Desk();
          for (const key of keys) calm.type('registration', key).settle();
          expect(eager.settle(() => picks.next().value).state.values).toEqual(calm.state.values);
        },
      ),
    );
  });
});

describe('the server decides the same', () => {
  const decide = (values: Record<string, unknown>, form = stayForm()): EntryState => {
    const step = submitEntry(form, opening, { values });
    let { state } = step;
    const open = [...step.requests];
    for (let request = open.shift(); request; request = open.shift()) {
      const event = answer(readable(state), request);
      if (!event) continue;
      const next = reduceEntry(state, event);
      state = next.state;
      open.push(...next.requests);
    }
    return state;
  };
  const refusedChecks = (state: EntryState) =>
    checksOf(state).filter(
      (check) => !choicesOf(readable(state), check.field).some((one) => one.value === check.value),
    );

  test('whatever a person can do in the browser, the server settles in the same values with the same problems', () => {
    fc.assert(
      fc.property(fc.array(acts, { maxLength: 6 }), (steps) => {
        const desk = new Desk();
        for (const act of steps) {
          act(desk);
          desk.settle();
        }
        const decided = decide(submission(desk.state).values);
        expect(decided.values).toEqual(desk.state.values);
        expect(problemsOf(decided)).toEqual(problemsOf(desk.state));
        expect(refusedChecks(decided)).toEqual([]);
      }),
    );
  });

  test('what was not sent is filled; what does not apply is found; what is not on the form is named', () => {
    const filled = decide({ berth: 112, registration: 'GS-0421' });
    expect(filled.values).toMatchObject({ harbour: 1, pontoon: 11, vessel: 5, length: 11.2, phone: '0555 014 220' });
    expect(refusedChecks(decide({ harbour: 2, pontoon: 11 })).map((one) => one.field)).toEqual(['pontoon']);
    const wrong = decide({ harbour: 1, colour: 'red', vessel: 6, arrival: '2026-02-31T10:00', length: 'long' });
    expect(
      problemsOf(wrong)
        .map(({ path, rule }) => `${path} ${rule}`)
        .sort(),
    ).toEqual(['arrival form', 'colour field', 'length form', 'vessel readOnly']);
  });
});
