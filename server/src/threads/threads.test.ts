import { expect, test } from 'vitest';
import { inThread } from './index.ts';

const run = async (job: 'tell' | 'wrong' | 'break'): Promise<number[]> => {
  const parts: number[] = [];
  const module = new URL('../fixtures/threadModule.ts', import.meta.url);
  for await (const part of inThread<number>({ module, job, tooMuch: 'Too much.' })) parts.push(part);
  return parts;
};

test('a thread that is done does the next job; one that broke is not asked again', async () => {
  const [first] = await run('tell');
  expect(await run('tell')).toEqual([first]);
  await expect(run('wrong')).rejects.toThrow('Not 2.');
  expect(await run('tell')).toEqual([first]);
  await expect(run('break')).rejects.toThrow('Too much.');
  const [second] = await run('tell');
  expect(second).not.toBe(first);
});

test('jobs at once each have a thread of their own', async () => {
  const told = await Promise.all([run('tell'), run('tell'), run('tell')]);
  expect(new Set(told.flat()).size).toBeGreaterThan(1);
  expect(told.every((one) => one.length === 1)).toBe(true);
});
