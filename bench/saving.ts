import { availableParallelism } from 'node:os';
import { signIn } from './client.ts';
import { fillBerths, openBenchOffice, type Ratio } from './office.ts';
import { portOf, processorTime, startServer, stopServer } from './serving.ts';
import { overHttp, pgbench } from './throughput.ts';

const SECONDS = 10;
/** A server that has just begun compiles its code while it runs: an office’s runs for weeks. */
const WARM_SECONDS = 25;
const BERTHS = 5_000;

/** What one round measured: saves a second, and processor time of a save in ms. */
type Round = Readonly<Record<'http' | 'same' | 'bare' | 'server' | 'database', number>>;

/**
 * Saves a second through HTTP, validated and captured, against pgbench: doing the bare insert with the same triggers, and
 * asking the same three statements. With the processor time of a save, of the server and of the database.
 */
export async function savingBench(): Promise<Ratio[]> {
  const office = await openBenchOffice();
  await fillBerths(office.databases, 50, BERTHS);
  const server = startServer(office.ownerUrl);
  try {
    const port = await portOf(server);
    const headers = await signIn(port, 'harbourmaster', 'bench-password');
    await overHttp(port, headers, 8, WARM_SECONDS, FORM, bodyOf);
    const found: Ratio[] = [];
    for (const clients of [8, 32]) {
      // In turn, so that a machine that slows down slows all.
      const rounds: Round[] = [];
      for (let round = 0; round < 2; round++) {
        const since = processorTime(server.pid ?? 0);
        const http = await overHttp(port, headers, clients, SECONDS, FORM, bodyOf);
        const used = since();
        rounds.push({
          http,
          same: pgbench(office.ownerUrl, clients, SECONDS, BERTH, [SESSION, CHOICES, INSERT]),
          bare: pgbench(office.ownerUrl, clients, SECONDS, BERTH, [INSERT]),
          server: used.server / (http * SECONDS),
          database: used.database / (http * SECONDS),
        });
      }
      const mean = (pick: (round: Round) => number): number =>
        rounds.reduce((sum, round) => sum + pick(round), 0) / rounds.length;
      const [http, same, bare] = [mean((one) => one.http), mean((one) => one.same), mean((one) => one.bare)];
      const cost = `${mean((one) => one.server).toFixed(2)} ms of processor time a save in the server, ${mean((one) => one.database).toFixed(2)} ms in the database`;
      found.push(
        {
          what: `saving through HTTP against pgbench with the same statements, ${clients} clients`,
          ratio: http / same,
          aim: '≥ 0.5',
          detail: `${http.toFixed(0)} against ${same.toFixed(0)} saves a second, ${availableParallelism()} processes; ${cost}`,
        },
        {
          what: `saving through HTTP against pgbench with the bare insert, ${clients} clients`,
          ratio: http / bare,
          aim: '≥ 0.3',
          detail: `${http.toFixed(0)} against ${bare.toFixed(0)} saves a second`,
        },
      );
    }
    return found;
  } finally {
    await stopServer(server);
    await office.close();
  }
}

const bodyOf = (): string => stayOnBerths(BERTHS);
export const FORM = 'quay_check_in';
const BERTH = `\\set berth random(1, ${BERTHS})`;

/** A stay on one of so many berths, at random, as a form sends it. */
export function stayOnBerths(berths: number): string {
  const berth = 1 + Math.floor(Math.random() * berths);
  return `{"values":{"pontoon":${1 + (berth % 50)},"berth":${berth},"registration":"GS-0421","length":11.2,"arrival":"2026-08-17T15:30","departure":"2026-08-19T10:00"}}`;
}

/** Who calls, with what rights, and which definitions are current: what every request asks. */
export const SESSION = `SELECT a.login, a.display_name, (SELECT json_agg(json_build_object('cabinet', c.id, 'label', c.label, 'role', r.label, 'rights', r.rights) ORDER BY c.label)
  FROM fiche.membership m JOIN fiche.cabinet c ON c.id = m.cabinet JOIN fiche.role r ON r.cabinet = m.cabinet AND r.id = m.role WHERE m.login = a.login) AS memberships,
  (SELECT json_object_agg(id, revision) FROM fiche.cabinet) AS revisions FROM fiche.account a WHERE a.login = 'harbourmaster';`;
/** Whether what was chosen is among the narrowed choices. */
const CHOICES = `SELECT json_build_array((SELECT json_build_array(c.letter, '{}'::json) FROM data.quay_pontoons c WHERE c.id = 1 + :berth % 50 AND c.archived_at IS NULL LIMIT 1),
  (SELECT json_build_array(c.number, json_build_object('pontoon', c.pontoon)) FROM data.quay_berths c WHERE c.id = :berth AND c.archived_at IS NULL AND c.pontoon = 1 + :berth % 50 LIMIT 1));`;
/** The insert as the server writes it: with its actor and the key of the save, in one statement. */
const INSERT = `WITH actor AS MATERIALIZED (SELECT set_config('fiche.actor', 'harbourmaster', true), set_config('fiche.through', '{"kind":"form","label":"Check-in","version":1}', true), set_config('fiche.at', '', true)),
  written AS (INSERT INTO data.quay_stays (pontoon, berth, registration, length, arrival, departure) SELECT 1 + :berth % 50, :berth, 'GS-0421', 11.2, '2026-08-17 15:30'::timestamp, '2026-08-19 10:00'::timestamp FROM actor RETURNING id, number),
  kept AS (INSERT INTO fiche.idempotency (account, key, body_hash, record) SELECT 'harbourmaster', gen_random_uuid()::text, repeat('0', 64), id FROM written) SELECT id, number FROM written;`;
