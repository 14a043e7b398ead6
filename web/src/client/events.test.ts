import { afterEach, beforeEach, expect, test, vi } from 'vitest';
import { listenAt } from './events.ts';

/** Stands for the browser’s EventSource, as far as it is used: what the server does is said by the test. */
class Source {
  static readonly CLOSED = 2;
  static readonly made: Source[] = [];
  readyState = 0;
  onopen: () => void = () => undefined;
  onerror: () => void = () => undefined;
  onmessage: (event: { data: string }) => void = () => undefined;
  constructor(readonly url: string) {
    Source.made.push(this);
  }
  close(): void {
    this.readyState = Source.CLOSED;
  }
  refuse(): void {
    this.readyState = Source.CLOSED;
    this.onerror();
  }
}
const latest = (): Source => Source.made.at(-1) as Source;

beforeEach(() => {
  vi.useFakeTimers();
  vi.stubGlobal('EventSource', Source);
  Source.made.length = 0;
});
afterEach(() => {
  vi.useRealTimers();
  vi.unstubAllGlobals();
});

test('after a refusal it listens again, after ever longer waits, and says that something may have been missed', () => {
  const opened: boolean[] = [];
  const heard: string[] = [];
  const refused = vi.fn();
  listenAt('/api/events', {
    onMessage: (text) => heard.push(text),
    onOpen: (again) => opened.push(again),
    onRefused: refused,
  });
  latest().onopen();
  latest().refuse();
  vi.advanceTimersByTime(999);
  expect(Source.made).toHaveLength(1);
  vi.advanceTimersByTime(1);
  expect(Source.made).toHaveLength(2);
  latest().refuse();
  vi.advanceTimersByTime(1_999);
  expect(Source.made).toHaveLength(2);
  vi.advanceTimersByTime(1);
  latest().onopen();
  latest().onmessage({ data: 'saved' });
  expect([opened, heard, refused.mock.calls.length]).toEqual([[false, true], ['saved'], 2]);
  // One that listened is asked again soon, however long it took before.
  latest().refuse();
  vi.advanceTimersByTime(1_000);
  expect(Source.made).toHaveLength(4);
});

test('a connection that is lost is left to the browser, and one that is stopped stays so', () => {
  const stop = listenAt('/api/events', { onMessage: () => undefined });
  latest().onopen();
  latest().onerror();
  vi.advanceTimersByTime(60_000);
  expect(Source.made).toHaveLength(1);
  latest().refuse();
  stop();
  vi.advanceTimersByTime(60_000);
  expect(Source.made).toHaveLength(1);
});
