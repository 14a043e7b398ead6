import { collectDefaultMetrics, Gauge, Histogram, Registry } from 'prom-client';
import { type Database, type Databases, poolsOf } from '../database/index.ts';
import { type OfficeFigures, officeFigures } from './officeFigures.ts';

/** Upper bounds of the buckets, in seconds. */
const SECONDS = [0.005, 0.01, 0.025, 0.05, 0.1, 0.25, 0.5, 1, 2.5, 5, 10];

/** What one process tells of itself, in the text format of Prometheus (OpenMetrics). */
export interface Metrics {
  readonly registry: Registry;
  /** Counts an answer that was sent; `route` is the address of its contract, without values. */
  observeRequest(method: string, route: string, status: number, seconds: number): void;
  /** Counts a statement that has ended. */
  observeQuery(seconds: number): void;
}

const secondsSince = (moment: string | null): number | null =>
  moment === null ? null : (Date.now() - Date.parse(moment)) / 1_000;

/** Gauges of the whole office: name, help, and the value out of its figures; null where there is none. */
const OFFICE_GAUGES: readonly (readonly [string, string, (of: OfficeFigures) => number | null])[] = [
  ['fiche_database_bytes', 'Size of the database, in bytes', (of) => of.bytes],
  ['fiche_seal_age_seconds', 'Seconds since the ledger was last sealed', (of) => secondsSince(of.sealed_at)],
  ['fiche_ledger_unsealed_lines', 'Lines of the ledger that no seal covers yet', (of) => of.unsealed],
  ['fiche_tasks_open', 'Work in the background that waits or runs', (of) => of.tasks_open],
  ['fiche_tasks_failed', 'Work in the background that failed in the last week', (of) => of.tasks_failed],
  ['fiche_messages_waiting', 'Messages that are still to be sent', (of) => of.messages_waiting],
  ['fiche_messages_failed', 'Messages of the last week that could not be sent', (of) => of.messages_failed],
  ['fiche_backup_age_seconds', 'Seconds since the last backup that ended well', (of) => secondsSince(of.backed_up_at)],
];

export function createMetrics(databases: Databases): Metrics {
  const registry = new Registry();
  const registers = [registry];
  collectDefaultMetrics({ register: registry, prefix: 'fiche_' });
  const answers = new Histogram({
    name: 'fiche_http_request_seconds',
    help: 'How long answers took, by method, route and status',
    labelNames: ['method', 'route', 'status'],
    buckets: SECONDS,
    registers,
  });
  const statements = new Histogram({
    name: 'fiche_sql_seconds',
    help: 'How long statements took in the database and on the way there',
    buckets: SECONDS,
    registers,
  });
  new Gauge({
    name: 'fiche_connections',
    help: 'Connections to the database that are in use, and requests that wait for one',
    labelNames: ['state'],
    registers,
    collect() {
      const pools = poolsOf(databases).map((one) => one.client.pool);
      const sum = (of: (pool: { numUsed(): number; numPendingAcquires(): number }) => number): number =>
        pools.reduce((total, pool) => total + (pool ? of(pool) : 0), 0);
      this.set(
        { state: 'used' },
        sum((pool) => pool.numUsed()),
      );
      this.set(
        { state: 'awaited' },
        sum((pool) => pool.numPendingAcquires()),
      );
    },
  });
  officeGauges(databases.health, registry);
  return {
    registry,
    observeRequest: (method, route, status, seconds) =>
      answers.observe({ method, route, status: String(status) }, seconds),
    observeQuery: (seconds) => statements.observe(seconds),
  };
}

/** So long, in ms, figures count as those of one reading of the metrics. */
const ONE_READING = 1_000;

/**
 * Makes the gauges of the office, which are asked of the database once each time that metrics are read. A figure that is not
 * known, or a database that is away, leaves its gauge out.
 */
function officeGauges(database: Database, registry: Registry): void {
  let asked: { readonly at: number; readonly figures: Promise<OfficeFigures | undefined> } | undefined;
  const figuresNow = (): Promise<OfficeFigures | undefined> => {
    if (!asked || Date.now() - asked.at > ONE_READING)
      asked = { at: Date.now(), figures: officeFigures(database).catch(() => undefined) };
    return asked.figures;
  };
  // The same from every process of a server: the first is taken.
  for (const [name, help, valueIn] of OFFICE_GAUGES)
    new Gauge({
      name,
      help,
      registers: [registry],
      aggregator: 'first',
      async collect() {
        const figures = await figuresNow();
        const value = figures ? valueIn(figures) : null;
        if (value === null) this.remove();
        else this.set(value);
      },
    });
  new Gauge({
    name: 'fiche_database_up',
    help: 'Whether the database answers: 1 or 0',
    registers: [registry],
    aggregator: 'min',
    async collect() {
      this.set((await figuresNow()) ? 1 : 0);
    },
  });
}
