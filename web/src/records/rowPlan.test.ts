import fc from 'fast-check';
import { expect, test } from 'vitest';
import { planRows } from './rowPlan.ts';

test('without groups a row is a record', () => {
  const plan = planRows(3, null, new Set());
  expect([plan.count, plan.rowAt(2), plan.recordNear(1)]).toEqual([3, { kind: 'record', at: 2 }, 1]);
});

test('each group has its head and, where it is open, its records; every record of an open group stands once, in order', () => {
  const groups = fc.array(fc.record({ count: fc.integer({ min: 1, max: 5 }), closed: fc.boolean() }), { minLength: 1 });
  fc.assert(
    fc.property(groups, fc.integer({ min: 0, max: 3 }), (all, late) => {
      const closed = new Set(all.flatMap((one, at) => (one.closed ? [at] : [])));
      const counted = all.reduce((sum, one) => sum + one.count, 0);
      const plan = planRows(counted + late, all, closed);
      const expected: object[] = [];
      let record = 0;
      for (const [group, one] of all.entries()) {
        expected.push({ kind: 'group', group });
        for (let n = 0; n < one.count; n++, record++) if (!one.closed) expected.push({ kind: 'record', at: record });
      }
      for (let n = 0; n < late; n++) expected.push({ kind: 'record', at: record++ });
      expect(Array.from({ length: plan.count }, (_, index) => plan.rowAt(index))).toEqual(expected);
    }),
  );
});
