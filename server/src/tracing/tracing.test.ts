import { expect, test } from 'vitest';
import { applicationName, currentRequest, requestId, withinRequest } from './index.ts';

test('a request is known in its course, and nowhere else', async () => {
  const request = { id: 'abcdef123456', route: 'POST /api/forms/{form}/entries' };
  await withinRequest(request, async () => {
    await Promise.resolve();
    expect(currentRequest()).toEqual(request);
    expect(applicationName()).toBe('fiche abcdef123456 POST /api/forms/{form}/entries');
  });
  expect(currentRequest()).toBeUndefined();
  expect(applicationName()).toBe('fiche');
});

test('an id that a proxy gives is kept where it is one; anything else is replaced', () => {
  expect(requestId('3f9a1c2b-7d10')).toBe('3f9a1c2b-7d10');
  for (const wrong of [undefined, '', 'short', 'with space in it', `x${'y'.repeat(64)}`, 'line\nbreak-12'])
    expect(requestId(wrong)).toMatch(/^[0-9a-f]{12}$/);
});
