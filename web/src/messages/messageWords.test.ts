import { expect, test } from 'vitest';
import { stateWords } from './messageWords.ts';

const moment = (at: string): string => at.slice(11, 16);
const message = { tries: 0, nextAt: null, sentAt: null };

test('what became of a message says how often it was tried and when it is tried again', () => {
  expect(stateWords({ ...message, state: 'waiting' }, moment)).toBe('Waiting');
  expect(stateWords({ ...message, state: 'waiting', tries: 1, nextAt: '2026-08-17T09:05' }, moment)).toBe(
    'Waiting, tried once; again 09:05',
  );
  expect(stateWords({ ...message, state: 'failed', tries: 8 }, moment)).toBe('Failed, tried 8 times');
  expect(stateWords({ ...message, state: 'failed' }, moment)).toBe('Failed');
  expect(stateWords({ ...message, state: 'sent', sentAt: '2026-08-17T09:00' }, moment)).toBe('Sent 09:00');
});
