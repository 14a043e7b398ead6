import { afterEach, expect, test, vi } from 'vitest';

afterEach(() => {
  vi.useRealTimers();
  vi.resetModules();
});

const berths = Array.from({ length: 420 }, (_, n) => ({
  key: `berth:${n}`,
  pontoon: 'pontoon:1',
  harbour: 'harbour:1',
  longest: 14,
  deepest: 3,
}));
const vessels = [{ key: 'vessel:1', registration: 'GS-0001', length: 9, draught: 1.5 }];

test.each(['00:00', '00:59', '01:00', '13:20', '23:59'])(
  'stays are invented at %s, and nothing of them happens after that hour',
  async (time) => {
    vi.useFakeTimers({ now: new Date(`2026-11-26T${time}:00Z`), toFake: ['Date'] });
    const { inventStays } = await import('./stays.ts');
    const happenings = inventStays(berths, vessels);
    expect(new Set(happenings.map((one) => one.key)).size).toBe(1_200);
    const last = happenings.map((one) => one.at).reduce((a, b) => (a > b ? a : b));
    expect(Date.parse(last)).toBeLessThan(Date.now());
    expect(Date.parse(last)).toBeGreaterThan(Date.now() - 86_400_000 * 2);
    // What arrives this week is not empty, on the day after neither.
    const tomorrow = Math.floor(Date.now() / 86_400_000 + 1) * 86_400_000;
    const arrivals = happenings.map((one) => Date.parse(`${one.values.arrival}Z`));
    expect(arrivals.filter((one) => one >= tomorrow && one < tomorrow + 86_400_000 * 6).length).toBe(12);
  },
);
