import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { all, is } from '../conditions/index.ts';
import { dayAfter } from '../office/index.ts';
import {
  DAY,
  dayAt,
  daysOf,
  drawnDates,
  intervalOf,
  isMoved,
  LANE_SPANS,
  type LaneSpan,
  laneParents,
  laneWindow,
  minutesOf,
  momentAt,
  mondayOf,
  monthAfter,
  movedDates,
  movedPeriod,
  newDate,
  overlap,
  overlappedBy,
  overlapping,
  type Period,
  placeInLane,
  placeInLanes,
  placeInWeek,
  positionIn,
  stepOf,
  timeTicks,
  weeksOfMonth,
  windowAround,
  windowBeside,
  windowZoomed,
  withMoved,
} from './index.ts';

const period = (id: number, start: string, end: string | null, lane: number | null = 1): Period => ({
  id,
  version: 1,
  title: `STAY-${id}`,
  label: null,
  start,
  end,
  lane,
});
const FIRST = minutesOf('2026-06-01');
const moments = fc.integer({ min: 0, max: 60 * 24 }).map((hours) => momentAt(FIRST + hours * 60));
const periods = fc
  .array(fc.tuple(moments, fc.option(fc.integer({ min: 0, max: 300 }))), { maxLength: 30 })
  .map((found) =>
    found.map(([start, hours], id) =>
      period(id, start, hours === null ? null : momentAt(minutesOf(start) + hours * 60)),
    ),
  );
const days = fc.integer({ min: 0, max: 40_000 }).map((n) => dayAt(n * DAY));
const spans = fc.constantFrom(...(Object.keys(LANE_SPANS) as LaneSpan[]));

describe('a lane', () => {
  test('holds every period once, and those of a row never overlap; it has no more rows than overlap at once', () => {
    fc.assert(
      fc.property(periods, (found) => {
        const { placed, rows } = placeInLane(found, true);
        expect(placed.map((one) => one.period.id).sort((a, b) => a - b)).toEqual(found.map((one) => one.id));
        for (const one of placed)
          for (const other of placed)
            if (one !== other && one.row === other.row) expect(overlap(one, other)).toBe(false);
        const most = Math.max(
          1,
          ...placed.map((one) => placed.filter((other) => other.from <= one.from && other.to > one.from).length),
        );
        expect(rows).toBe(most);
      }),
    );
  });

  test('knows what is in the way of a moved period, as the rule against overlaps reckons it', () => {
    const stays = [period(1, '2026-06-03T12:00', '2026-06-05T10:00'), period(2, '2026-06-09T12:00', null)];
    const at = (start: string, end: string | null, id = 3) =>
      overlapping(period(id, start, end), stays).map((one) => one.id);
    // One may begin when another ends.
    expect(at('2026-06-05T10:00', '2026-06-09T12:00')).toEqual([]);
    expect(at('2026-06-05T09:59', '2026-06-07T10:00')).toEqual([1]);
    expect(at('2026-06-01T09:00', null)).toEqual([1, 2]);
    expect(at('2026-06-20T09:00', '2026-06-21T09:00')).toEqual([2]);
    expect(at('2026-06-03T12:00', '2026-06-05T10:00', 1)).toEqual([]);
    // What ends before it begins is taken the other way round.
    expect(at('2026-06-04T12:00', '2026-06-01T12:00')).toEqual([1]);
  });

  test('says which fields follow a record into it, as far up as dropdowns are narrowed', () => {
    const column = (path: string) => ({ kind: 'column' as const, path });
    const form = (path: string) => ({ kind: 'form' as const, path });
    const narrowing: Record<string, ReturnType<typeof all>> = {
      berth: all(is(column('pontoon'), form('pontoon')), is(column('in_use'), { kind: 'constant', value: true })),
      pontoon: all(is(form('harbour'), column('harbour'))),
      // A circle ends by itself.
      harbour: all(is(column('pontoon'), form('pontoon'))),
    };
    expect(laneParents('berth', (field) => narrowing[field] ?? null)).toEqual([
      { field: 'pontoon', path: 'pontoon' },
      { field: 'harbour', path: 'pontoon.harbour' },
    ]);
    expect(laneParents('vessel', (field) => narrowing[field] ?? null)).toEqual([]);
  });
});

describe('lanes', () => {
  const lanes = [{ id: 1 }, { id: 2 }, { id: 3 }];

  test('hold each period once, those of no lane first; those of a lane that is not shown are left out', () => {
    fc.assert(
      fc.property(
        periods,
        fc.array(fc.constantFrom(1, 2, 3, 9, null), { minLength: 30, maxLength: 30 }),
        (found, where) => {
          const all = found.map((one, at) => ({ ...one, lane: where[at] ?? null }));
          const placed = placeInLanes(lanes, all, true);
          const ids = placed.flatMap((one) => one.placed.map(({ period: { id } }) => id));
          expect(ids.sort((a, b) => a - b)).toEqual(all.filter((one) => one.lane !== 9).map((one) => one.id));
          for (const one of placed)
            for (const { period: own } of one.placed) expect(own.lane).toBe(one.lane?.id ?? null);
          expect(placed[0]?.lane === undefined).toBe(all.some((one) => one.lane === null));
        },
      ),
    );
  });

  test('change only where a moved period leaves and enters, and say what it would lie over', () => {
    const stays = [
      period(1, '2026-06-03T12:00', '2026-06-05T10:00', 1),
      period(2, '2026-06-04T12:00', '2026-06-06T10:00', 2),
    ];
    const before = placeInLanes(lanes, stays, true);
    const moved = movedPeriod({ period: stays[0] as Period, part: 'whole', by: DAY, lane: 2 }, DAY);
    const after = withMoved(before, moved, true);
    expect(after.map((one) => one.placed.map(({ period: { id } }) => id))).toEqual([[], [2, 1], []]);
    expect(after[2]).toBe(before[2]);
    expect(overlappedBy(moved, stays)?.id).toBe(2);
    expect(overlappedBy({ ...moved, lane: 3 }, stays)).toBeUndefined();
    expect(overlappedBy({ ...moved, lane: null }, stays)).toBeUndefined();
  });
});

describe('a move', () => {
  test('of an end stays in its lane, and none is one that leads nowhere else', () => {
    const stay = period(1, '2026-06-03T12:00', '2026-06-05T10:00', 1);
    expect(movedPeriod({ period: stay, part: 'end', by: DAY, lane: 2 }, DAY)).toMatchObject({
      lane: 1,
      end: '2026-06-06T10:00',
    });
    expect(isMoved({ period: stay, part: 'whole', by: 0, lane: 1 })).toBe(false);
    expect(isMoved({ period: stay, part: 'end', by: 0, lane: 2 })).toBe(false);
    expect(isMoved({ period: stay, part: 'whole', by: 0, lane: null })).toBe(true);
  });

  test('that draws a new period covers what was drawn in whole steps; by days, moments begin at noon', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 0, max: 1e6 }),
        fc.integer({ min: -5_000, max: 5_000 }),
        fc.constantFrom(15, 60, DAY),
        (from, by, step) => {
          const { start, end } = drawnDates(from, from + by, step, false);
          expect(minutesOf(start)).toBeLessThanOrEqual(Math.min(from, from + by));
          expect(minutesOf(end)).toBeGreaterThanOrEqual(Math.max(from, from + by));
          expect(minutesOf(end) - minutesOf(start)).toBeGreaterThanOrEqual(step);
          if (step === DAY) expect([start.slice(11), end.slice(11)]).toEqual(['12:00', '12:00']);
        },
      ),
    );
    const noon = minutesOf('2026-06-03T13:00');
    expect(drawnDates(noon, noon + DAY, DAY, true)).toEqual({ start: '2026-06-03', end: '2026-06-05' });
    expect([newDate('2026-06-03', true), newDate('2026-06-03', false)]).toEqual(['2026-06-03', '2026-06-03T12:00']);
  });

  test('of the whole keeps its length, of an end never passes the beginning, and back again is where it was', () => {
    fc.assert(
      fc.property(
        moments,
        fc.integer({ min: 1, max: 400 }),
        fc.integer({ min: -40, max: 40 }),
        fc.constantFrom('whole', 'start', 'end'),
        fc.constantFrom(15, 60, DAY),
        (start, hours, steps, part, step) => {
          const own = { start, end: momentAt(minutesOf(start) + hours * 60) };
          const moved = movedDates(own, part, steps * step, step);
          const length = minutesOf(moved.end ?? '') - minutesOf(moved.start);
          expect(length).toBeGreaterThan(0);
          if (part !== 'whole') return;
          expect(length).toBe(hours * 60);
          expect(movedDates(moved, part, -steps * step, step)).toEqual(own);
        },
      ),
    );
  });

  test('of days stays with days, of what has no end leaves it without', () => {
    expect(movedDates({ start: '2026-02-27', end: '2026-03-01' }, 'whole', 2 * DAY, DAY)).toEqual({
      start: '2026-03-01',
      end: '2026-03-03',
    });
    expect(movedDates({ start: '2026-02-27', end: '2026-03-01' }, 'end', -9 * DAY, DAY)).toEqual({
      start: '2026-02-27',
      end: '2026-02-28',
    });
    expect(movedDates({ start: '2026-02-27T10:00', end: null }, 'end', DAY, DAY)).toEqual({
      start: '2026-02-27T10:00',
      end: null,
    });
    expect([stepOf('day', false), stepOf('week', false), stepOf('year', false), stepOf('day', true)]).toEqual([
      15,
      60,
      DAY,
      DAY,
    ]);
  });
});

describe('the time that lanes show', () => {
  test('is as long as its span, holds the day around which it is shown, and goes back where it came from', () => {
    fc.assert(
      fc.property(days, spans, spans, (day, span, other) => {
        const from = windowAround(day, span);
        const window = laneWindow(from, span);
        expect((window.to - window.from) / DAY).toBe(LANE_SPANS[span]);
        expect(positionIn(window, minutesOf(day))).toBeLessThan(0.5);
        expect(windowBeside(windowBeside(from, span, 1), span, -1)).toBe(from);
        expect(windowZoomed(windowZoomed(from, span, other), other, span)).toBe(from);
      }),
    );
  });

  test('has marks in order, each with room for its words', () => {
    fc.assert(
      fc.property(days, spans, fc.integer({ min: 240, max: 1_600 }), (from, span, width) => {
        const ticks = timeTicks(from, span, width);
        expect(ticks.length).toBeGreaterThan(0);
        const xs = ticks.map((tick) => tick.at);
        expect([...xs].sort((a, b) => a - b)).toEqual(xs);
        for (const tick of ticks) expect(tick.text).not.toBe('');
        if (span !== 'year' && span !== 'season') expect(ticks.length * 40).toBeLessThanOrEqual(Math.max(width, 200));
      }),
    );
  });
});

describe('a month', () => {
  test('has its weeks from Monday, and every one of its days in one of them', () => {
    fc.assert(
      fc.property(days, (day) => {
        const weeks = weeksOfMonth(day);
        expect(weeks.length).toBeGreaterThanOrEqual(4);
        expect(weeks.length).toBeLessThanOrEqual(6);
        expect(weeks.every((monday) => mondayOf(monday) === monday)).toBe(true);
        expect(weeks).toContain(mondayOf(day));
        expect(monthAfter(monthAfter(day, 1), -1)).toBe(`${day.slice(0, 8)}01`);
      }),
    );
  });

  test('shows each period on all of its days, in rows where none covers another; what does not fit is counted', () => {
    fc.assert(
      fc.property(periods, fc.integer({ min: 1, max: 6 }), (found, rows) => {
        const monday = mondayOf('2026-06-10');
        const { segments, hidden } = placeInWeek(monday, found, true, rows);
        for (const one of segments)
          for (const other of segments)
            if (one !== other && one.row === other.row) expect(one.to < other.from || other.to < one.from).toBe(true);
        for (let at = 0; at < 7; at++) {
          const day = dayAfter(monday, at);
          const on = found.filter((one) => {
            const { first, last } = daysOf(one, true);
            return first <= day && (last === null || last >= day);
          });
          const shown = segments.filter((one) => one.from <= at && one.to >= at);
          expect(shown.length + (hidden[at] ?? 0)).toBe(on.length);
        }
      }),
    );
  });

  test('counts the last day of days, and of moments what lies in it: midnight does not', () => {
    expect(daysOf(period(1, '2026-06-03', '2026-06-05'), true)).toEqual({ first: '2026-06-03', last: '2026-06-05' });
    expect(daysOf(period(1, '2026-06-03T12:00', '2026-06-05T00:00'), true).last).toBe('2026-06-04');
    expect(daysOf(period(1, '2026-06-03T12:00', null), true).last).toBeNull();
    expect(daysOf(period(1, '2026-06-03T12:00', null), false).last).toBe('2026-06-03');
    expect(intervalOf({ start: '2026-06-03', end: null }, false)).toEqual({
      from: minutesOf('2026-06-03'),
      to: minutesOf('2026-06-04'),
    });
  });
});
