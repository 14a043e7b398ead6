import { FAULTS } from './faults.ts';
import { civil, DAY, END, type Happening, HOUR, iso, ref, SEASONS, SET_UP, TODAY, YEARS } from './happening.ts';
import { address, between, chance, decimal, email, person, phone, pick, shuffled, vesselNames } from './random.ts';
import { type Berth, inventStays, type Vessel } from './stays.ts';
import { VESSEL_TYPES } from './tables.ts';

const HARBOURS = [
  { key: 'harbour:GQ', name: 'Gannet Quay', code: 'GQ', channel: 12, pontoons: 'ABCDEFGH' },
  { key: 'harbour:TC', name: 'Tern Cove', code: 'TC', channel: 14, pontoons: 'ABCDEF' },
  { key: 'harbour:SH', name: 'Skerry Haven', code: 'SH', channel: 37, pontoons: 'ABCD' },
] as const;

/** Two seasons of Gannet Sound in the order in which they happened. */
export function inventOffice(): Happening[] {
  const setUp = new Clock(SET_UP + 8 * HOUR);
  const berths = inventBerths();
  const owners = inventOwners(setUp);
  const vessels = inventVessels(setUp, owners.keys);
  const reports = inventReports();
  const first = [
    ...inventHarbours(setUp),
    ...berths.happenings(setUp),
    ...inventTariff(setUp),
    ...owners.happenings,
    ...vessels.happenings,
    ...inventFaults(setUp),
  ];
  const later = [
    ...inventStays(berths.all, vessels.all),
    ...reports,
    ...inventCorrections(owners.keys),
    ...inventMending(reports),
    ...tideReadings(),
  ];
  return [...first, ...later.sort((a, b) => (a.at < b.at ? -1 : a.at > b.at ? 1 : 0))];
}

/** The height of the tide every three hours of the last week, as the gauge wrote it: a wave of 12 h 25 min around 2.4 m. */
function tideReadings(): Happening[] {
  return Array.from({ length: 56 }, (_, n) => {
    const at = END - (55 - n) * 3 * HOUR - HOUR;
    return {
      at: iso(at),
      account: 'token:gauge-reader',
      table: 'gannet_tide_readings',
      key: `tide:${n}`,
      values: { at: civil(at), height: Number((2.4 + 1.7 * Math.sin((2 * Math.PI * at) / (12.42 * HOUR))).toFixed(1)) },
    };
  });
}

/** Gives one moment after another, for what is entered in one go. */
class Clock {
  constructor(private now: number) {}
  next(): string {
    this.now += between(20, 90) * 1_000;
    return iso(this.now);
  }
}

const byHarbourmaster = (clock: Clock, table: string, key: string, values: Happening['values']): Happening => ({
  at: clock.next(),
  account: 'harbourmaster',
  table,
  key,
  values,
});

function inventHarbours(clock: Clock): Happening[] {
  return HARBOURS.flatMap(({ key, name, code, channel, pontoons }) => [
    byHarbourmaster(clock, 'gannet_harbours', key, {
      name,
      code,
      radio_channel: channel,
      office_address: `Harbour Office\n${name}`,
    }),
    ...[...pontoons].map((letter) =>
      byHarbourmaster(clock, 'gannet_pontoons', `pontoon:${code}-${letter}`, {
        letter,
        harbour: ref(key),
        depth: decimal(2.2, 6),
        power: chance(0.8),
      }),
    ),
  ]);
}

function inventBerths() {
  const all: (Berth & { number: string; inUse: boolean })[] = HARBOURS.flatMap(({ key, code, pontoons }) =>
    [...pontoons].flatMap((letter) =>
      Array.from({ length: between(22, 25) }, (_, n) => ({
        key: `berth:${code}-${letter}-${n + 1}`,
        pontoon: `pontoon:${code}-${letter}`,
        harbour: key,
        number: `${letter}-${n + 1}`,
        longest: pick([8, 10, 10, 12, 12, 14, 18, 24]),
        deepest: decimal(1.8, 4),
        inUse: chance(0.95),
      })),
    ),
  );
  const happenings = (clock: Clock) =>
    all.map(({ key, pontoon, number, longest, deepest, inUse }) =>
      byHarbourmaster(clock, 'gannet_berths', key, {
        number,
        pontoon: ref(pontoon),
        longest_vessel: longest,
        deepest_draught: deepest,
        in_use: inUse,
      }),
    );
  return { all: all.filter((berth) => berth.inUse), happenings };
}

function inventOwners(clock: Clock) {
  const keys: string[] = [];
  const happenings = Array.from({ length: 260 }, (_, n) => {
    const kind = n < 190 ? 'Person' : n < 235 ? 'Firm' : 'Syndicate';
    const someone = person();
    const surname = someone.split(' ').at(-1) ?? someone;
    const name =
      kind === 'Person'
        ? someone
        : kind === 'Firm'
          ? `${surname} ${pick(['Boatyard', 'Fisheries', 'Charter', 'Marine Works'])}`
          : `${surname} Syndicate`;
    const lead = n < 40 || n >= 190 || chance(0.75);
    const key = `owner:${n}`;
    keys.push(key);
    return byHarbourmaster(clock, 'gannet_owners', key, {
      name,
      kind,
      e_mail: email(name),
      phone: phone(),
      address: address(),
      lead,
      lead_owner: lead ? null : ref(`owner:${between(0, 39)}`),
    });
  });
  return { keys, happenings: [...happenings, enteredTwice(happenings)] };
}

/** Which owner somebody has entered a second time, and which vessel belongs to the second one. */
const [DOUBLED, VESSEL_OF_DOUBLE] = [212, 11];
const DOUBLE = 'owner:again';

/** An owner that was entered again by its misspelt name, as happens at a counter: there is something to merge. */
function enteredTwice(owners: readonly Happening[]): Happening {
  const [first, last] = [owners[DOUBLED], owners.at(-1)];
  const { name, kind, phone: known } = first?.values ?? {};
  const misspelt = String(name).replace(/(?<=^.{2})./, '');
  return {
    at: last?.at ?? '',
    account: 'harbourmaster',
    table: 'gannet_owners',
    key: DOUBLE,
    values: { name: misspelt, kind: kind ?? null, phone: known ?? null, lead: true },
  };
}

function inventVessels(clock: Clock, owners: readonly string[]) {
  const names = vesselNames();
  const numbers = shuffled(Array.from({ length: 900 }, (_, n) => n + 1)).slice(0, 300);
  const all: Vessel[] = [];
  const happenings = numbers.map((number, n) => {
    const type = pick(VESSEL_TYPES);
    const length = type === 'Tender' ? decimal(2.5, 5.9) : type === 'Barge' ? decimal(12, 23) : decimal(6, 17);
    const vessel = {
      key: `vessel:${n}`,
      registration: `GS-${String(number).padStart(4, '0')}`,
      length,
      draught: decimal(0.5, Math.min(3.4, 0.8 + length / 5)),
    };
    all.push(vessel);
    const owner = pick(owners);
    return byHarbourmaster(clock, 'gannet_vessels', vessel.key, {
      name: names[n] ?? `Vessel ${n}`,
      registration: vessel.registration,
      type,
      length,
      draught: vessel.draught,
      owner: ref(n === VESSEL_OF_DOUBLE ? DOUBLE : owner),
      insured_until: civil(TODAY + between(-60, 500) * DAY).slice(0, 10),
    });
  });
  return { all, happenings };
}

function inventTariff(clock: Clock): Happening[] {
  const moorings: [string, number][] = [
    ['Visitor, up to 10 m', 18.5],
    ['Visitor, up to 14 m', 24.5],
    ['Visitor, over 14 m', 36],
    ['Winter layby', 9.8],
  ];
  const services: [string, string, number][] = [
    ['Shore power', 'night', 3.2],
    ['Pump-out', 'visit', 18],
    ['Fresh water', 'm³', 4.1],
    ['Crane', 'hour', 65],
    ['Slipway', 'visit', 22],
  ];
  return YEARS.flatMap((season, n) => {
    const rise = 1.04 ** n;
    const cents = (rate: number) => Number((rate * rise).toFixed(2));
    return [
      ...moorings.map(([item, rate]) =>
        byHarbourmaster(clock, 'gannet_tariff', `mooring:${season}:${item}`, {
          item,
          kind: 'Mooring',
          season,
          unit: 'night',
          rate: cents(rate),
        }),
      ),
      ...services.map(([item, unit, rate]) =>
        byHarbourmaster(clock, 'gannet_tariff', `service:${season}:${item}`, {
          item,
          kind: 'Service',
          season,
          unit,
          rate: cents(rate),
        }),
      ),
    ];
  });
}

const inventFaults = (clock: Clock): Happening[] =>
  FAULTS.map((fault, n) => byHarbourmaster(clock, 'gannet_faults', `fault:${n}`, fault));

function inventReports(): Happening[] {
  return Array.from({ length: 180 }, (_, n) => {
    const season = n < 80 ? SEASONS[0] : SEASONS[1];
    const day = season.from + between(0, 209) * DAY;
    const at = day + between(7, 22) * HOUR + between(0, 59) * 60_000;
    const harbour = pick(HARBOURS);
    const fault = pick(FAULTS);
    const who = person();
    const onPontoon = fault.system === 'Pontoon';
    return {
      at: iso(at),
      account: chance(0.85) ? 'page:report-a-fault' : 'quayclerk',
      table: 'gannet_fault_reports',
      form: 'gannet_report_a_fault',
      key: `report:${n}`,
      values: {
        harbour: ref(harbour.key),
        pontoon: onPontoon ? ref(`pontoon:${harbour.code}-${pick([...harbour.pontoons])}`) : null,
        ...fault,
        what_happened: chance(0.5)
          ? pick([
              'Seen this morning.',
              'It has been like this for days.',
              'A child nearly fell.',
              'Near the far end.',
              'After the storm.',
            ])
          : null,
        reporter: chance(0.7) ? who : null,
        e_mail: chance(0.5) ? email(who) : null,
      },
    };
  });
}

/** Most of what was reported is mended some days later. */
const inventMending = (reports: readonly Happening[]): Happening[] =>
  reports.flatMap(({ at, table, key }) => {
    const mended = Date.parse(at) + between(1, 12) * DAY;
    if (mended > END || chance(0.06)) return [];
    return [{ at: iso(mended), account: 'quayclerk', table, key, values: { mended_on: iso(mended).slice(0, 10) } }];
  });

/** New telephone numbers. */
function inventCorrections(owners: readonly string[]): Happening[] {
  const some = shuffled(owners).slice(0, 70);
  return some.map((key) => {
    const day = pick(SEASONS).from + between(0, 205) * DAY;
    const at = iso(day + between(8, 17) * HOUR + between(0, 59) * 60_000);
    const account = pick(['quayclerk', 'nightclerk', 'harbourmaster']);
    return { at, account, table: 'gannet_owners', form: 'gannet_owner_card', key, values: { phone: phone() } };
  });
}
