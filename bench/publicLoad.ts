import { createHash, randomUUID } from 'node:crypto';
import { Client } from './client.ts';
import { fillBerths, openBenchOffice } from './office.ts';
import { publishPage, SLUG } from './publicOffice.ts';
import { portOf, startServer, stopServer } from './serving.ts';

// A public page under load, bounded and on loopback: people who have it open choose in its dropdowns, and answers come at a
// steady rate. Every answer has to be there in the end.
const OPENED = 500;
const A_SECOND = 20;
const SECONDS = Number(process.env.FICHE_LOAD_SECONDS ?? 60);
/** Beyond this, 95 of 100 answers shall not take, in ms. */
const AIM_MS = 1_000;
/** Each of those who have the page open asks for choices so often, in ms. */
const ASKS_EVERY = 10_000;
const BERTHS = 5_000;

interface Opened {
  readonly client: Client;
  readonly headers: string;
  readonly version: number;
  readonly work: string;
}

/** The work that a browser does unseen; it is done beforehand, and counts for no answer. */
function workFor(token: string, bits: number): string {
  for (let n = 0; ; n++) {
    const hash = createHash('sha256')
      .update(`${token}:${n.toString(36)}`)
      .digest();
    if (Math.clz32(hash.readUInt32BE(0)) >= bits) return n.toString(36);
  }
}

/** Opens the page as somebody of an address of their own, and does the work that its answer needs. */
async function openPage(port: number, n: number): Promise<Opened> {
  const client = new Client(port, `x-forwarded-for: 10.1.${n >> 8}.${n & 255}\r\n`);
  const { status, body } = await client.send('GET', `/api/public/${SLUG}`);
  if (status !== 200) throw new Error(`The page answers ${status}: ${body}`);
  const { begun, version, workBits } = JSON.parse(body) as { begun: string; version: number; workBits: number };
  return { client, version, headers: `x-fiche-begun: ${begun}\r\n`, work: workFor(begun, workBits) };
}

const at = (times: readonly number[], share: number): number =>
  [...times].sort((a, b) => a - b)[Math.floor(times.length * share)] ?? Number.NaN;

const pause = (ms: number): Promise<void> => new Promise((resolve) => setTimeout(resolve, Math.max(0, ms)));

/** Sends answers at a steady rate, each from another page, while the others ask; gives the times of both, in ms. */
async function run(pages: readonly Opened[]): Promise<{ readonly answers: number[]; readonly questions: number[] }> {
  const [answers, questions]: [number[], number[]] = [[], []];
  const timed = async (times: number[], page: Opened, path: string, body: object, headers = ''): Promise<void> => {
    const begun = performance.now();
    const answer = await page.client.send('POST', path, JSON.stringify(body), page.headers + headers);
    if (answer.status !== 200) throw new Error(`${path}: ${answer.status} ${answer.body}`);
    times.push(performance.now() - begun);
  };
  const end = performance.now() + SECONDS * 1_000;
  const asking = async (page: Opened, n: number): Promise<void> => {
    await pause((n / OPENED) * ASKS_EVERY);
    for (; performance.now() < end; await pause(ASKS_EVERY))
      await timed(questions, page, `/api/public/${SLUG}/choices`, {
        field: 'berth',
        formVersion: page.version,
        values: { pontoon: 1 + (n % 50) },
      });
  };
  const sending = async (page: Opened, n: number): Promise<void> => {
    const berth = 1 + (n % BERTHS);
    const values = { pontoon: 1 + (berth % 50), berth, length: 9, registration: `GS-${n}` };
    const body = { values, formVersion: page.version, page: { work: page.work } };
    await timed(answers, page, `/api/public/${SLUG}/entries`, body, `idempotency-key: ${randomUUID()}\r\n`);
  };
  const [senders, askers] = [pages.slice(OPENED), pages.slice(0, OPENED)];
  const all = askers.map(asking);
  const first = performance.now();
  for (const [n, page] of senders.entries()) {
    await pause(first + (n * 1_000) / A_SECOND - performance.now());
    all.push(sending(page, n));
  }
  await Promise.all(all);
  return { answers, questions };
}

const office = await openBenchOffice();
await fillBerths(office.databases, 50, BERTHS);
await publishPage(office);
// The addresses of those who answer are told by a proxy.
process.env.FICHE_TRUST_PROXY = '1';
const server = startServer(office.ownerUrl);
let failed = false;
try {
  const port = await portOf(server);
  const pages: Opened[] = [];
  const beganOpening = performance.now();
  for (let n = 0; n < OPENED + A_SECOND * SECONDS; n++) pages.push(await openPage(port, n));
  const opening = (performance.now() - beganOpening) / pages.length;
  // People need some seconds before they send.
  await pause(3_500);
  const { answers, questions } = await run(pages);
  for (const page of pages) page.client.close();
  const { rows } = await office.databases.owner.raw<{ rows: { saved: number; kept: number; held: number }[] }>(
    `SELECT (SELECT count(*)::integer FROM data.quay_stays) AS saved, (SELECT count(*)::integer FROM fiche.answer) AS kept,
       (SELECT count(*)::integer FROM fiche.held_answer) AS held`,
  );
  const { saved = 0, kept = 0, held = 0 } = rows[0] ?? {};
  const sent = answers.length;
  const p95 = at(answers, 0.95);
  failed = p95 > AIM_MS || saved + held !== sent || kept !== saved || sent !== A_SECOND * SECONDS;
  const within = (times: readonly number[]): string =>
    `half within ${at(times, 0.5).toFixed(0)} ms, 95 of 100 within ${at(times, 0.95).toFixed(0)} ms, slowest ${Math.max(...times).toFixed(0)} ms`;
  process.stdout.write(
    `${OPENED} pages open, ${A_SECOND} answers a second for ${SECONDS} s\nopening a page, its work done: ${opening.toFixed(0)} ms\nanswers ${within(answers)} (aim ${AIM_MS} ms for 95 of 100)\nchoices ${within(questions)}\n${sent} sent, ${saved} saved, ${held} held, ${sent - saved - held} lost\n`,
  );
} finally {
  await stopServer(server);
  await office.close();
}
process.exit(failed ? 1 : 0);
