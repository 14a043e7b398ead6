import fc from 'fast-check';
import { expect, test } from 'vitest';
import { Together } from './together.ts';

test('everybody gets the answer to their own key, of a question that began after they came', async () => {
  await fc.assert(
    fc.asyncProperty(fc.scheduler(), fc.array(fc.constantFrom('a', 'b', 'c'), { maxLength: 30 }), async (s, keys) => {
      // The time goes on with whatever happens.
      let [now, questions] = [0, 0];
      const together = new Together(async (asked: readonly string[]) => {
        const begun = ++now;
        questions++;
        return s.schedule(Promise.resolve(new Map(asked.map((key) => [key, { key, begun }]))));
      });
      const callers = keys.map((key) =>
        s.schedule(Promise.resolve()).then(async () => {
          const came = ++now;
          const answer = await together.of(key);
          expect(answer.key).toBe(key);
          expect(answer.begun).toBeGreaterThan(came);
        }),
      );
      await s.waitFor(Promise.all(callers));
      expect(questions).toBeLessThanOrEqual(keys.length);
    }),
  );
});

test('a question that fails fails for those who asked, and for nobody after them', async () => {
  let first = true;
  const together = new Together(async (keys: readonly string[]) => {
    if (!first) return new Map(keys.map((key) => [key, key]));
    first = false;
    throw new Error('The database is away');
  });
  await expect(together.of('a')).rejects.toThrow('away');
  expect(await together.of('a')).toBe('a');
});
