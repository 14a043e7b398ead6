import { randomUUID } from 'node:crypto';
import { plainListing } from '@fiche/core/views';
import { loadDefinitions } from '@fiche/server/definitions/index';
import { Client, signIn } from './client.ts';
import { A_YEAR, type Growth, growOffice, MADE } from './grow.ts';
import { openBenchOffice, p95 } from './office.ts';
import { portOf, startServer, stopServer } from './serving.ts';

const ROUNDS = 60;
/** What is expensive is measured less often. */
const FEW = 9;
const SMALL: Growth = { cabinets: 2, tables: 4, fields: 40, accounts: 3, records: 2_500, others: 50, lines: 12_500 };

/** One thing that people or programs do, as the request that does it; `round` makes each another one. */
interface Row {
  readonly what: string;
  readonly rounds: number;
  /** What its cost grows with, and why. */
  readonly grows: string;
  ask(round: number, office: Measured): readonly [method: string, path: string, body?: object];
}

interface Measured {
  readonly growth: Growth;
  readonly listing: object;
  /** A berth of this round, spread over all of them. */
  berth(round: number): number;
}

const list =
  (more: object) =>
  (_round: number, { listing }: Measured) =>
    ['POST', '/api/tables/quay_berths/rows', { listing: { ...listing, ...more }, limit: 100 }] as const;

const ROWS: readonly Row[] = [
  {
    what: 'Who calls, and what they may do',
    rounds: ROUNDS,
    grows: 'one index entry of a session; its answer names the caller’s cabinets',
    ask: () => ['GET', '/api/session'],
  },
  {
    what: 'A cabinet with its tables and forms, opened',
    rounds: ROUNDS,
    grows: 'the cabinet’s own definitions, kept in memory by revision',
    ask: () => ['GET', '/api/cabinets/quay'],
  },
  {
    what: 'A save: validated, narrowed, captured',
    rounds: ROUNDS,
    grows: 'index depth only',
    ask: (round, { berth }) => {
      const id = berth(round);
      return [
        'POST',
        '/api/forms/quay_check_in/entries',
        {
          values: {
            pontoon: null,
            berth: id,
            registration: 'GS-0421',
            length: 11.2,
            arrival: '2026-08-17T15:30',
            departure: '2026-08-19T10:00',
          },
        },
      ];
    },
  },
  {
    what: 'Choices of berths, narrowed by pontoon',
    rounds: ROUNDS,
    grows: 'index depth: a pontoon has 50 berths in both',
    ask: (round, { growth }) => [
      'POST',
      '/api/forms/quay_check_in/choices',
      { field: 'berth', values: { pontoon: 1 + ((round * 7_919) % (growth.records / 50)) }, search: '' },
    ],
  },
  {
    what: 'The first page of a list, with its count',
    rounds: FEW,
    grows: 'the count, which reads every record in use once',
    ask: list({}),
  },
  {
    what: 'The same, sorted by an indexed column',
    rounds: FEW,
    grows: 'the same count; the page itself reads the index',
    ask: list({ sort: [{ path: 'number', direction: 'up' }] }),
  },
  {
    what: 'A chart by a link',
    rounds: FEW,
    grows: 'the records, which are read once and added up by pontoon',
    ask: (_round, { listing }) => [
      'POST',
      '/api/tables/quay_berths/figures',
      { listing: { ...listing, shown: { as: 'chart', chart: { kind: 'categories', path: 'pontoon' } } } },
    ],
  },
  {
    what: 'Found by words, in every table of the cabinet',
    rounds: ROUNDS,
    grows: 'the words’ own hits, through a trigram index',
    ask: (round) => ['GET', `/api/cabinets/quay/find?words=B-${1_000 + round}`],
  },
  {
    what: 'A record opened',
    rounds: ROUNDS,
    grows: 'index depth only',
    ask: (round, { berth }) => ['GET', `/api/tables/quay_berths/records/${berth(round)}`],
  },
  {
    what: 'Its place: record 12 of so many',
    rounds: FEW,
    grows: 'the records in use, which are counted; the card is there before',
    ask: (round, { berth }) => ['GET', `/api/tables/quay_berths/records/${berth(round)}/place`],
  },
  {
    what: 'Its history',
    rounds: ROUNDS,
    grows: 'the record’s own lines, and the months that they lie in',
    ask: (round, { berth }) => ['GET', `/api/tables/quay_berths/records/${berth(round)}/history`],
  },
  {
    what: 'The record as it stood half a year ago',
    rounds: ROUNDS,
    grows: 'the record’s own lines',
    ask: (round, { berth }) => [
      'GET',
      `/api/tables/quay_berths/records/${berth(round)}/as-of?at=${new Date(Date.now() - 180 * 86_400_000).toISOString()}`,
    ],
  },
  {
    what: 'The newest page of the ledger',
    rounds: FEW,
    grows: 'the months of the ledger, each of which is looked at for its newest lines',
    ask: () => ['GET', '/api/cabinets/quay/ledger'],
  },
  {
    what: 'A field added to a table, and the cabinet opened after it',
    rounds: FEW,
    grows: 'the definitions of the whole office, of which those that changed are read again',
    ask: (round) => [
      'POST',
      '/api/tables/quay_stays/fields',
      { field: { label: `More ${round} ${randomUUID().slice(0, 6)}`, type: 'text' } },
    ],
  },
  {
    what: 'How the installation does (Settings)',
    rounds: FEW,
    grows: 'the lines that no seal covers yet',
    ask: () => ['GET', '/api/cabinets/quay/operation'],
  },
];

/** The p95 of each row in one office, in ms. */
async function measure(growth: Growth, say: (what: string) => void): Promise<number[]> {
  const office = await openBenchOffice(MADE);
  try {
    await growOffice(office.databases, growth, say);
    const { tables } = await loadDefinitions(office.databases.app);
    const table = tables.get('quay_berths');
    if (!table) throw new Error('There are no berths');
    const measured: Measured = {
      growth,
      listing: plainListing(table),
      berth: (round) => 1 + ((round * 7_919) % growth.records),
    };
    const server = startServer(office.ownerUrl);
    try {
      const port = await portOf(server);
      const headers = await signIn(port, 'harbourmaster', 'bench-password');
      const times: number[] = [];
      for (const row of ROWS) times.push(await timesOf(row, measured, port, headers));
      return times;
    } finally {
      await stopServer(server);
    }
  } finally {
    await office.close();
  }
}

async function timesOf(row: Row, measured: Measured, port: number, headers: string): Promise<number> {
  const client = new Client(port, headers);
  const taken: number[] = [];
  // The first rounds compile the code, and open connections.
  const warm = Math.ceil(row.rounds / 2);
  for (let round = 0; round < warm + row.rounds; round++) {
    const [method, path, body] = row.ask(round, measured);
    const key = method === 'POST' ? `idempotency-key: ${randomUUID()}\r\n` : '';
    const begun = performance.now();
    const answer = await client.send(method, path, body ? JSON.stringify(body) : '', key);
    if (answer.status !== 200) throw new Error(`${row.what}: ${answer.status} ${answer.body.slice(0, 300)}`);
    if (round >= warm) taken.push(performance.now() - begun);
  }
  client.close();
  return p95(taken);
}

// Prints what each request costs in an office after a year of work against a small one, and what that grows with.
const begun = performance.now();
const say = (what: string): void => {
  if (process.stderr.isTTY)
    process.stderr.write(`\r\x1b[K${((performance.now() - begun) / 1_000).toFixed(0)} s  ${what}`);
};
const small = await measure(SMALL, () => undefined);
const from = performance.now();
const grown = await measure(A_YEAR, say);
process.stdout.write(
  `${A_YEAR.tables} tables, ${A_YEAR.fields} fields, ${A_YEAR.records} records in the largest, ${A_YEAR.lines} lines, ${A_YEAR.accounts} accounts, ${A_YEAR.cabinets} cabinets: made and measured in ${((performance.now() - from) / 60_000).toFixed(1)} min\n`,
);
process.stdout.write('what                                                       small      grown   ratio\n');
for (const [at, { what, grows }] of ROWS.entries()) {
  const [a = Number.NaN, b = Number.NaN] = [small[at], grown[at]];
  process.stdout.write(
    `${what.padEnd(56)} ${a.toFixed(1).padStart(6)} ms  ${b.toFixed(1).padStart(6)} ms   ${(b / a).toFixed(1).padStart(5)}\n    grows with ${grows}\n`,
  );
}
