import {
  civil,
  DAY,
  END,
  type Happening,
  type HappeningValues,
  HOUR,
  iso,
  ref,
  SEASONS,
  TODAY,
  yearOf,
} from './happening.ts';
import { between, chance, decimal, pick } from './random.ts';

const STAYS = 1_200;
/** So many of them arrive on the day of seeding. */
const ARRIVE_TODAY = 9;
/** So many are booked ahead, for the days after it: what comes this week is never empty, at midnight neither. */
const AHEAD = 12;
/** The day of the last full hour: in the first hour of a day nothing has happened on it yet. */
const LAST_DAY = Math.floor((END - HOUR) / DAY) * DAY;

export interface Berth {
  readonly key: string;
  readonly pontoon: string;
  readonly harbour: string;
  readonly longest: number;
  readonly deepest: number;
}

export interface Vessel {
  readonly key: string;
  readonly registration: string;
  readonly length: number;
  readonly draught: number;
}

/** Stays that never overlap on one berth, with corrections of departures, some dues waived, and some that are still to come. */
export function inventStays(berths: readonly Berth[], vessels: readonly Vessel[]): Happening[] {
  const happenings: Happening[] = [];
  const free = new Map<string, number>();
  let made = 0;
  while (made < STAYS - AHEAD) {
    const season = made < STAYS / 2 ? SEASONS[0] : SEASONS[1];
    const today = made >= STAYS - AHEAD - ARRIVE_TODAY;
    const berth = pick(berths);
    const fitting = vessels.filter((vessel) => vessel.length <= berth.longest && vessel.draught <= berth.deepest);
    const wanted = today ? LAST_DAY : season.from + between(0, 205) * DAY;
    const day = Math.ceil(Math.max(free.get(berth.key) ?? 0, wanted) / DAY) * DAY;
    const hour = today ? between(0, (END - LAST_DAY) / HOUR - 1) : between(9, 20);
    const arrival = day + hour * HOUR;
    const departure = arrival - (arrival % DAY) + between(1, 16) * DAY + 10 * HOUR;
    const entered = arrival + between(5, 50) * 60_000;
    if (fitting.length === 0 || entered >= season.to) continue;
    // What was corrected later has happened by now.
    const later = entered + between(8, 40) * HOUR;
    const corrected = chance(0.3) && later < END ? departure + between(1, 4) * DAY : undefined;
    free.set(berth.key, (corrected ?? departure) + DAY);
    happenings.push(...stay(made, { berth, vessel: pick(fitting), arrival, departure, corrected, entered, later }));
    made += 1;
  }
  while (made < STAYS) {
    const berth = pick(berths);
    const day = TODAY + between(1, 6) * DAY;
    const fitting = vessels.filter((vessel) => vessel.length <= berth.longest && vessel.draught <= berth.deepest);
    if (fitting.length === 0 || (free.get(berth.key) ?? 0) > day) continue;
    const arrival = day + between(9, 20) * HOUR;
    const departure = day + between(1, 9) * DAY + 10 * HOUR;
    const entered = END - between(60, 4_000) * 60_000;
    free.set(berth.key, departure + DAY);
    happenings.push(...booked(made, { berth, vessel: pick(fitting), arrival, departure, entered }));
    made += 1;
  }
  return happenings;
}

interface Booking {
  readonly berth: Berth;
  readonly vessel: Vessel;
  readonly arrival: number;
  readonly departure: number;
  /** When it was entered. */
  readonly entered: number;
}

interface Stay extends Booking {
  readonly corrected: number | undefined;
  /** When something of it was changed. */
  readonly later: number;
}

const through = (n: number) => ({ table: 'gannet_stays', form: 'gannet_check_in', key: `stay:${n}` });
const clerk = (ms: number): string => (new Date(ms).getUTCHours() >= 18 || chance(0.15) ? 'nightclerk' : 'quayclerk');

/** A stay as it is entered: at the arrival with what the vessel uses, or ahead of it without. */
function booked(n: number, { berth, vessel, arrival, departure, entered }: Booking): Happening[] {
  const season = yearOf(arrival);
  const band = vessel.length <= 10 ? 'up to 10 m' : vessel.length <= 14 ? 'up to 14 m' : 'over 14 m';
  const values = {
    harbour: ref(berth.harbour),
    pontoon: ref(berth.pontoon),
    berth: ref(berth.key),
    registration: vessel.registration,
    arrival: civil(arrival),
    departure: civil(departure),
    mooring: ref(`mooring:${season}:Visitor, ${band}`),
    waived: false,
  };
  const one = { ...through(n), at: iso(entered), account: clerk(entered), values };
  if (arrival > entered) return [one];
  return [{ ...one, lines: { services_used: servicesOf(season, Math.round((departure - arrival) / DAY)) } }];
}

function stay(n: number, one: Stay): Happening[] {
  const { corrected, later } = one;
  const found = booked(n, one);
  if (corrected)
    found.push({ ...through(n), at: iso(later), account: clerk(later), values: { departure: civil(corrected) } });
  const at = later + between(1, 9) * HOUR;
  if (chance(0.05) && at < END) {
    const reason = pick([
      'Storm shelter, harbour master agreed',
      'Towed in by the duty boat',
      'Berth without power',
      'Guest of the harbour day',
      'Charged twice by mistake',
    ]);
    found.push({
      ...through(n),
      at: iso(at),
      account: pick(['harbourmaster', 'quayclerk']),
      values: { waived: true, reason },
    });
  }
  return found;
}

/** What a vessel uses in so many nights. */
function servicesOf(season: number, nights: number): HappeningValues[] {
  const used: [string, number, number][] = [
    ['Shore power', 0.8, Math.max(1, nights)],
    ['Fresh water', 0.6, decimal(0.2, 3)],
    ['Pump-out', 0.45, 1],
    ['Slipway', 0.35, 1],
    ['Crane', 0.3, decimal(0.5, 3)],
  ];
  return used.flatMap(([service, share, quantity]) =>
    chance(share) ? [{ service: ref(`service:${season}:${service}`), quantity }] : [],
  );
}
