import { expect, test } from 'vitest';
import { stampWords } from './stamp.ts';

test('the audit fields say who added a record, and who changed it only where somebody has', () => {
  const added = { createdAt: '2026-08-17T09:00:00Z', createdBy: 'quayclerk' };
  expect(stampWords({ ...added, changedAt: added.createdAt, changedBy: 'quayclerk' })).toBe(
    'added 17 Aug 2026, 09:00 · quayclerk',
  );
  expect(stampWords({ ...added, changedAt: '2026-08-18T10:30:00Z', changedBy: 'nightclerk' })).toBe(
    'added 17 Aug 2026, 09:00 · quayclerk — changed 18 Aug 2026, 10:30 · nightclerk',
  );
});
