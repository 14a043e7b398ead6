import type { BackupView } from '@fiche/core/api';
import { expect, test } from 'vitest';
import { backupProblem, backupWords, monthWords, sealWords, standbyWords } from './operationWords.ts';

const done: BackupView = {
  begunAt: '2026-11-20T02:00:00.000Z',
  endedAt: '2026-11-20T02:05:00.000Z',
  kind: 'base',
  state: 'done',
  place: '/backups/2026-11-20T02.00.00Z-base',
  bytes: 7_500_000,
  encrypted: true,
  verifiedAt: null,
  message: null,
};
const failed: BackupView = { ...done, state: 'failed', bytes: null, message: 'No space left on device' };
const now = new Date('2026-11-21T09:00:00.000Z');

test('a recent backup that ended well needs no warning; none, an old one and a failed one do', () => {
  expect(backupProblem([done], now)).toBeUndefined();
  expect(backupProblem([], now)).toBe('No backup has been taken yet.');
  expect(backupProblem([failed], now)).toBe('No backup has ended well yet.');
  expect(backupProblem([failed, done], now)).toBe('The last backup failed.');
  expect(backupProblem([done], new Date('2026-12-24T09:00:00.000Z'))).toBe(
    'The last backup that ended well is 34 days old.',
  );
});

test('a backup says whether it is encrypted and was ever restored, and one that failed why', () => {
  expect(backupWords(done)).toBe('Encrypted; not restored yet to see whether it can be');
  expect(backupWords({ ...done, encrypted: false, verifiedAt: '2026-11-20T03:00:00.000Z' })).toMatch(
    /^Not encrypted; restored and verified 20 Nov 2026/,
  );
  expect(backupWords(failed)).toBe('Failed: No space left on device');
});

test('seals, months and standbys read as sentences', () => {
  expect(sealWords({ at: null, count: 0, unsealed: 3 })).toContain('Nothing is sealed yet');
  expect(sealWords({ at: '2026-11-20T02:00:00.000Z', count: 11, unsealed: 1 })).toMatch(
    /^Seal 11 was made .*; 1 line since then is not sealed yet\.$/,
  );
  expect(monthWords('2026-11')).toBe('November 2026');
  expect(standbyWords({ answers: true, behindSeconds: 0.2 }, 1)).toBe('Standby 1 answers and is up to date.');
  expect(standbyWords({ answers: true, behindSeconds: 61 }, 2)).toBe('Standby 2 answers and is 61 seconds behind.');
  expect(standbyWords({ answers: false, behindSeconds: null }, 1)).toContain('does not answer');
});
