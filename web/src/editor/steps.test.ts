import fc from 'fast-check';
import { expect, test } from 'vitest';
import { NO_STEPS, type Steps, stepBack, stepForward, stepOn } from './steps.ts';

const act = fc.oneof(
  fc.nat(1_000).map((value) => ({ kind: 'change' as const, value })),
  fc.constant({ kind: 'undo' as const }),
  fc.constant({ kind: 'redo' as const }),
);

test('undo and redo walk what was made, as a plain list with a place in it does', () => {
  fc.assert(
    fc.property(fc.array(act, { maxLength: 60 }), (acts) => {
      let now: { steps: Steps<number>; shown: number } = { steps: NO_STEPS, shown: -1 };
      let all = [-1];
      let at = 0;
      for (const one of acts) {
        if (one.kind === 'change') {
          now = { steps: stepOn(now.steps, now.shown), shown: one.value };
          all = [...all.slice(0, at + 1), one.value];
          at++;
        } else {
          const next = (one.kind === 'undo' ? stepBack : stepForward)(now.steps, now.shown);
          const to = at + (one.kind === 'undo' ? -1 : 1);
          expect(next === undefined).toBe(all[to] === undefined);
          if (next) {
            now = next;
            at = to;
          }
        }
        expect(now.shown).toBe(all[at]);
      }
    }),
  );
});

test('a hundred steps are kept, the newest', () => {
  let steps: Steps<number> = NO_STEPS;
  for (let n = 0; n < 150; n++) steps = stepOn(steps, n);
  expect(steps.past).toHaveLength(100);
  expect(steps.past[0]).toBe(50);
});
