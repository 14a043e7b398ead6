import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { all } from '../conditions/index.ts';
import { prove } from '../proof/index.ts';
import { opening, partsOf } from './fixtures/desk.ts';
import { answer, tables } from './fixtures/harbour.ts';
import { LineDesk, linesForm, openServices } from './fixtures/lines.ts';
import {
  type EntryState,
  isDirty,
  presentLines,
  problemsOf,
  readable,
  readForm,
  reduceEntry,
  submission,
  submitEntry,
  visibleProblems,
} from './index.ts';

const open = openServices;
const desk = (form = open()) => new LineDesk(form, opening);
const amounts = (state: EntryState) => presentLines(state, 'used').map((line) => line.state.values.amount);

describe('lines of a subform', () => {
  test('a blank line is always ready, and becomes a line when it is typed in', () => {
    const one = desk();
    expect(one.state.lines.used).toHaveLength(1);
    expect(presentLines(one.state, 'used')).toHaveLength(0);
    one.typeIn(0, 'quantity', '2');
    expect(presentLines(one.state, 'used')).toHaveLength(1);
    expect(one.state.lines.used).toHaveLength(2);
  });

  test('choosing fills, the line calculates, and the form adds its lines up', () => {
    const one = desk().chooseIn(0, 'service', 1).typeIn(0, 'quantity', '3').chooseIn(1, 'service', 2).settle();
    one.typeIn(1, 'quantity', '0,5');
    expect(amounts(one.state)).toEqual([9.6, 32.5]);
    expect(one.state.values.length).toBe(42.1);
    one.do({ type: 'lineArchived', line: one.at(0) });
    expect(one.state.values.length).toBe(32.5);
    one.do({ type: 'linesUndone' });
    expect(amounts(one.state)).toEqual([9.6, 32.5]);
    expect(one.state.values.length).toBe(42.1);
  });

  test('lines are narrowed by the record around them, also through its link, and follow when that changes', () => {
    const narrowed = linesForm({
      fields: linesForm()
        .subforms.get('used')
        ?.definition.fields.map((one) =>
          one.field === 'service'
            ? {
                ...one,
                narrowing: {
                  where: all({
                    kind: 'compare',
                    left: { kind: 'column', path: 'rate' },
                    operator: 'atLeast',
                    right: { kind: 'enclosing', path: 'berth.longest' },
                  }),
                  sort: null,
                  show: [],
                  only: false,
                },
              }
            : one,
        ),
    });
    const one = new LineDesk(narrowed, opening).choose('berth', 111).settle();
    expect(() => one.chooseIn(0, 'service', 1)).toThrow('not offered');
    one.do({ type: 'changed', field: 'berth', value: null }).settle();
    one.chooseIn(0, 'service', 1).settle();
    one.choose('berth', 111).settle();
    expect(one.line(0).values.service).toBe(null);
    expect(one.line(0).fields.service?.notice).toContain('“Shore power” was cleared');
  });

  test('a line reaches the record around it through its own link, before that is saved', () => {
    const one = desk(open()).type('note', 'quiet berth');
    one.typeIn(0, 'quantity', '1');
    // The enclosing record is told to those lines that read it.
    const reads = linesForm({
      rules: [
        {
          id: 'quiet',
          kind: 'ask',
          when: null,
          examples: [],
          at: 'quantity',
          message: 'Not on a quiet berth.',
          must: {
            kind: 'compare',
            left: { kind: 'form', path: 'stay.note' },
            operator: 'isNot',
            right: { kind: 'constant', value: 'quiet berth' },
          },
        },
      ],
    });
    const two = new LineDesk(reads, opening).type('note', 'quiet berth');
    two.typeIn(0, 'quantity', '1');
    expect(readForm(readable(two.line(0)), 'stay.note')).toBe('quiet berth');
    expect(problemsOf(two.state).map((problem) => problem.rule)).toContain('quiet');
    two.type('note', 'loud');
    expect(problemsOf(two.state).map((problem) => problem.rule)).not.toContain('quiet');
  });

  test('a value begins a line of its own as long as there is room, beside what is being typed', () => {
    const one = desk(linesForm({ ...open().subforms.get('used')?.definition, most: 3 }));
    one.typeIn(0, 'quantity', '2');
    for (const value of [4, 5, 6]) one.do({ type: 'lineBegun', subform: 'used', field: 'quantity', value });
    expect(presentLines(one.state, 'used').map((line) => line.state.values.quantity)).toEqual([2, 4, 5]);
    expect(isDirty(one.state)).toBe(true);
  });

  test('problems of lines have their cell, those of the blank line are none; too few and too many are said', () => {
    const one = desk(linesForm({ least: 2, most: 2 }))
      .typeIn(0, 'quantity', 'x')
      .do({ type: 'savePressed' });
    const paths = visibleProblems(one.state).map(({ path, rule }) => `${path} ${rule}`);
    const { key } = one.at(0);
    expect(paths).toContain(`used[${key}].quantity form`);
    expect(paths).toContain(`used[${key}].service required`);
    expect(paths).toContain('used least');
    expect(paths.every((path) => !path.includes(one.at(1).key))).toBe(true);
    one.typeIn(0, 'quantity', '1').typeIn(1, 'quantity', '1');
    expect(one.state.lines.used).toHaveLength(2);
  });

  test('copy down, move, and what is sent: each line with its key, in order', () => {
    const one = desk().chooseIn(0, 'service', 1).typeIn(0, 'quantity', '3').typeIn(1, 'quantity', '4').settle();
    one.do({ type: 'copiedDown', line: one.at(1), field: 'service' }).settle();
    expect(one.line(1).values).toMatchObject({ service: 1, rate: 3.2, amount: 12.8 });
    one.do({ type: 'lineMoved', line: one.at(1), to: 0 });
    expect(submission(one.state).lines.used?.map((line) => line.values?.quantity)).toEqual([4, 3]);
  });

  test('a pasted block is read like typing, its choices found by their titles', () => {
    const one = desk().do({
      type: 'pasted',
      line: { subform: 'used', key: 'l1' },
      field: 'service',
      rows: [
        ['Crane', '2'],
        ['Cranes', '1'],
        ['CRANE', 'much'],
      ],
    });
    one.settle();
    expect(presentLines(one.state, 'used').map((line) => line.state.values.service)).toEqual([2, null, 2]);
    expect(one.line(1).fields.service?.unparsed?.message).toContain('No choice is called “Cranes”');
    expect(one.line(2).fields.quantity?.unparsed?.text).toBe('much');
    expect(one.state.values.length).toBe(130);
    one.do({ type: 'linesUndone' });
    expect(presentLines(one.state, 'used')).toHaveLength(0);
  });

  test('a hidden subform is neither read nor sent', () => {
    const form = linesForm({
      shownWhen: all({ kind: 'compare', left: { kind: 'form', path: 'note' }, operator: 'isNotBlank' }),
      least: 1,
    });
    const one = desk(form);
    expect(problemsOf(one.state).map((problem) => problem.rule)).not.toContain('least');
    expect(submission(one.state).lines).toEqual({});
    one.type('note', 'x');
    expect(problemsOf(one.state).map((problem) => problem.rule)).toContain('least');
  });

  test('counts and takes of lines in conditions, and in expressions', () => {
    const one = desk(linesForm({}, 'count(used) > 1 ? most(used.amount) : 0.0'))
      .typeIn(0, 'quantity', '2')
      .typeIn(0, 'rate', '5');
    expect(one.state.values.length).toBe(0);
    one.typeIn(1, 'quantity', '3').typeIn(1, 'rate', '4');
    expect(one.state.values.length).toBe(12);
    expect(readForm(readable(one.state), 'used')).toBe(2);
    expect(readForm(readable(one.state), 'used.amount.sum')).toBe(22);
    expect(readForm(readable(one.state), 'used.amount.average')).toBe(11);
  });

  test('what a line waits for is asked anew after undo, so that the save is not kept waiting for ever', () => {
    const one = desk().choose('harbour', 1).settle();
    one.do({
      type: 'pasted',
      line: one.at(0),
      field: 'service',
      rows: [['Crane', '2']],
    });
    // Undone back to a moment at which the choice was still being looked for, whose answer has come since.
    one.do({ type: 'lineArchived', line: one.at(0) }).settle();
    one.do({ type: 'linesUndone' });
    expect(one.line(0).fields.service?.unparsed?.text).toBe('Crane');
    one.settle();
    expect(one.line(0).values.service).toBe(2);
    one.do({ type: 'savePressed' }).settle();
    expect(one.saves).toHaveLength(1);
  });

  test('what the server says of a line that is not on the card is said at its subform', () => {
    const one = desk().do({
      type: 'refused',
      problems: [{ path: 'used[kept9].service', rule: 'choice', message: 'It does not apply.' }],
    });
    expect(problemsOf(one.state)).toContainEqual({ path: 'used', rule: 'choice', message: 'It does not apply.' });
  });

  test('the proof looks into lines, and finds a calculation that loops through them', () => {
    const fields = linesForm().subforms.get('used')?.definition.fields ?? [];
    const loop = linesForm({
      fields: fields.map((one) => (one.field === 'amount' ? { ...one, calculation: 'quantity * stay.length' } : one)),
    });
    const found = prove(loop.definition, tables, opening.now).map((one) => `${one.path} ${one.rule}`);
    expect(found.some((one) => one.endsWith(' loop'))).toBe(true);
    const wrong = linesForm({
      fields: fields.map((one) => (one.field === 'amount' ? { ...one, calculation: 'quantity * rat' } : one)),
    });
    expect(prove(wrong.definition, tables, opening.now).map((one) => `${one.path} ${one.rule}`)).toContain(
      'used/amount calculation',
    );
  });

  test('the order in which answers arrive does not matter, and the server comes to the same', () => {
    fc.assert(
      fc.property(
        fc.array(
          fc.oneof(
            fc.record({ do: fc.constant('choose' as const), n: fc.nat(2), service: fc.constantFrom(1, 2, 3) }),
            fc.record({ do: fc.constant('type' as const), n: fc.nat(2), text: fc.constantFrom('1', '2,5', '', 'x') }),
            fc.record({ do: fc.constant('archive' as const), n: fc.nat(2) }),
            fc.record({ do: fc.constant('move' as const), n: fc.nat(2), to: fc.nat(3) }),
          ),
          { maxLength: 12 },
        ),
        fc.array(fc.nat(7), { minLength: 1, maxLength: 9 }),
        (steps, order) => {
          const [a, b] = [desk(), desk()];
          for (const step of steps)
            for (const one of [a, b]) {
              const n = Math.min(step.n, (one.state.lines.used ?? []).filter((line) => !line.archived).length - 1);
              if (step.do === 'choose') one.chooseIn(n, 'service', step.service);
              else if (step.do === 'type') one.typeIn(n, 'quantity', step.text);
              else if (step.do === 'archive') one.do({ type: 'lineArchived', line: one.at(n) });
              else one.do({ type: 'lineMoved', line: one.at(n), to: step.to });
              if (one === a) one.settle();
            }
          let at = 0;
          b.settle(() => order[at++ % order.length] ?? 0);
          expect(submission(b.state).lines).toEqual(submission(a.state).lines);
          expect(b.state.values).toEqual(a.state.values);
          // The server replays what was sent, and calculates the same.
          if (presentLines(a.state, 'used').some((line) => Object.keys(partsOf(line.state, 'unparsed')).length > 0))
            return;
          const { values, lines } = submission(a.state);
          const first = submitEntry(a.state.form, opening, { values, lines });
          let state = first.state;
          const queue = [...first.requests];
          for (let request = queue.shift(); request; request = queue.shift()) {
            const { line } = request;
            const asking = line ? state.lines[line.subform]?.find((one) => one.key === line.key)?.state : state;
            const event = asking && answer(readable(asking), request);
            if (!event) continue;
            const next = reduceEntry(state, line ? { type: 'line', line, event } : event);
            state = next.state;
            queue.push(...next.requests);
          }
          expect(state.values.length).toEqual(a.state.values.length);
          expect(amounts(state)).toEqual(amounts(a.state));
          const browser = problemsOf(a.state).map(({ path, rule }) => `${path} ${rule}`);
          expect(problemsOf(state).map(({ path, rule }) => `${path} ${rule}`)).toEqual(browser);
        },
      ),
      { numRuns: 150 },
    );
  });
});

describe('somebody else saves meanwhile', () => {
  const record = (values: object, version = 1) => ({
    id: 7,
    version,
    values: { harbour: 1, note: 'a', ...values },
    linked: {},
  });
  const lineOf = (id: number, quantity: number, version = 1) => ({
    id,
    version,
    values: { service: 2, quantity, rate: 65, amount: quantity * 65 },
    linked: {},
  });
  const openedAt = () =>
    new LineDesk(open(), { ...opening, record: record({}), lines: { used: [lineOf(1, 1), lineOf(2, 2)] } });

  test('what I did not touch takes their value; what both changed asks, and neither is lost', () => {
    const one = openedAt().type('note', 'mine').typeIn(0, 'quantity', '5');
    one.do({
      type: 'remoteSaved',
      record: record({ note: 'theirs', phone: '0555 014 221' }, 2),
      lines: { used: [lineOf(1, 3, 2), lineOf(2, 4, 2), lineOf(3, 9)] },
      by: 'nightclerk',
    });
    expect(one.state.values).toMatchObject({ note: 'mine', phone: '0555 014 221' });
    expect(one.state.fields.phone?.notice).toBe('nightclerk has just changed this.');
    expect(one.state.fields.note?.conflict).toMatchObject({ value: 'theirs', by: 'nightclerk' });
    expect(one.line(0).fields.quantity?.conflict).toMatchObject({ value: 3 });
    expect(one.line(1).values.quantity).toBe(4);
    expect(presentLines(one.state, 'used').map((line) => line.state.opening.record?.id)).toEqual([1, 2, 3]);
    one.do({ type: 'savePressed' }).settle();
    expect(one.saves).toHaveLength(0);
    one.do({ type: 'conflictDecided', field: 'note', theirs: true });
    one.do({ type: 'line', line: one.at(0), event: { type: 'conflictDecided', field: 'quantity', theirs: false } });
    one.do({ type: 'savePressed' }).settle();
    expect(one.saves).toHaveLength(1);
    expect(submission(one.state).values.note).toBe('theirs');
    expect(submission(one.state).lines.used?.[0]).toMatchObject({ id: 1, version: 2, values: { quantity: 5 } });
  });

  test('after one’s own save, what was typed meanwhile stays, without a question', () => {
    const one = openedAt().type('note', 'sent');
    one
      .type('note', 'typed since')
      .do({ type: 'remoteSaved', record: record({ note: 'sent', phone: 'x' }, 2), by: null });
    expect(one.state.values).toMatchObject({ note: 'typed since', phone: 'x' });
    expect([partsOf(one.state, 'conflict'), partsOf(one.state, 'notice')]).toEqual([{}, {}]);
    expect(isDirty(one.state)).toBe(true);
  });

  test('a line that they archived goes, unless something was typed in it: then it comes as a new one', () => {
    const one = openedAt().typeIn(0, 'quantity', '5');
    one.do({ type: 'remoteSaved', record: record({}, 2), lines: { used: [] }, by: 'nightclerk' });
    expect(submission(one.state).lines.used).toMatchObject([{ values: { quantity: 5 } }]);
    expect(submission(one.state).lines.used?.[0]?.id).toBeUndefined();
  });
});
