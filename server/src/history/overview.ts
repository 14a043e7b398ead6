import type { LedgerOverview } from '@fiche/core/api';
import { civilNow } from '@fiche/core/office';
import { ask, type Database } from '../database/index.ts';
import type { Definitions } from '../definitions/index.ts';
import { type LedgerQuery, ledgerWhere, type Where } from './ledgerWhere.ts';

/** Without a first day, so many days are looked at. */
const DAYS = 91;
/** What stands out: so many saves by one person within ten minutes, or in one night. */
const MANY_IN_TEN_MINUTES = 40;
const SOME_AT_NIGHT = 3;
const NAMED = 30;

type Unusual = LedgerOverview['unusual'][number];

const dayBefore = (day: string, days: number): string =>
  new Date(Date.parse(`${day}T00:00:00Z`) - days * 86_400_000).toISOString().slice(0, 10);

/**
 * Changes of a cabinet by time and person, and those that stand out: many in a short time, at night, erasures, rules that asked and
 * were answered, direct database sessions. As far as the caller sees them, in the days that the query names.
 */
export async function ledgerOverview(
  app: Database,
  definitions: Definitions,
  cabinet: string,
  asked: Omit<LedgerQuery, 'before' | 'limit'>,
): Promise<LedgerOverview> {
  const to = asked.to ?? civilNow().slice(0, 10);
  const from = asked.from ?? dayBefore(to, DAYS);
  const lines = ledgerWhere(definitions, cabinet, { ...asked, from, to, limit: 0 });
  const days = (Date.parse(to) - Date.parse(from)) / 86_400_000;
  const step = days < 4 ? 'hour' : days <= 2 * DAYS ? 'day' : 'week';
  const zone = definitions.office.timeZone;
  const counts = await ask<{ begin: string; account: string; count: number }>(
    app,
    `SELECT to_char(date_trunc('${step}', at AT TIME ZONE ?), 'YYYY-MM-DD"T"HH24:MI') AS begin, account, count(DISTINCT (transaction, at))::int AS count
     FROM ledger.line WHERE ${lines.where} GROUP BY 1, 2 ORDER BY 1, 2`,
    [zone, ...lines.values],
  );
  return { from, to, step, counts, unusual: await unusualIn(app, lines, zone) };
}

async function unusualIn(app: Database, { where, values }: Where, zone: string): Promise<Unusual[]> {
  const people = `account NOT LIKE 'page:%' AND account NOT LIKE 'token:%' AND account NOT LIKE 'db:%'`;
  const find = (kind: Unusual['kind'], sql: string, more: readonly unknown[] = []) =>
    ask<Omit<Unusual, 'kind'>>(app, sql, [...more, ...values]).then((rows) => rows.map((row) => ({ kind, ...row })));
  const grouped = (day: string, condition: string, least: number): string =>
    `SELECT account, to_char(${day}, 'YYYY-MM-DD') AS day, count(DISTINCT (transaction, at))::int AS count, NULL AS at
     FROM ledger.line WHERE ${condition} AND ${where} GROUP BY 1, 2 HAVING count(DISTINCT (transaction, at)) >= ${least} ORDER BY 2 DESC LIMIT ${NAMED}`;
  const local = `(at AT TIME ZONE '${zone.replaceAll("'", "''")}')`;
  const atNight = `(extract(hour FROM ${local}) >= 22 OR extract(hour FROM ${local}) < 6)`;
  const found = [
    await find(
      'burst',
      `SELECT account, to_char(begin AT TIME ZONE '${zone.replaceAll("'", "''")}', 'YYYY-MM-DD') AS day, count, to_json(begin)#>>'{}' AS at FROM (
         SELECT account, date_bin('10 minutes', at, '2020-01-01') AS begin, count(DISTINCT (transaction, at))::int AS count
         FROM ledger.line WHERE ${people} AND ${where} GROUP BY 1, 2 HAVING count(DISTINCT (transaction, at)) >= ${MANY_IN_TEN_MINUTES}
       ) b ORDER BY begin DESC LIMIT ${NAMED}`,
    ),
    await find('night', grouped(`${local} - interval '6 hours'`, `${people} AND ${atNight}`, SOME_AT_NIGHT)),
    await find('erased', grouped(local, `kind = 'erase' AND place LIKE 'data.%'`, 1)),
    await find('asked', grouped(local, 'reasons IS NOT NULL', 1)),
    await find('direct', grouped(local, `account LIKE 'db:%'`, 1)),
  ];
  return found.flat();
}
