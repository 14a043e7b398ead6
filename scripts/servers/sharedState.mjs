// What one of several servers is told, and another one knows. Each gives whether it holds.
import { randomUUID } from 'node:crypto';
import { until } from './until.mjs';

/** What events a stream tells, until `stop` is called. */
function eventsOf(caller, path) {
  const heard = [];
  const gone = new AbortController();
  const open = fetch(`${caller.base}${path}`, { headers: { cookie: caller.secrets.cookie }, signal: gone.signal });
  const reading = (async () => {
    const reply = await open;
    for await (const chunk of reply.body) heard.push(...String(Buffer.from(chunk)).matchAll(/data: (.*)/g));
  })().catch(() => undefined);
  return {
    heard,
    opened: open.then((reply) => reply.status),
    /** Settles when the server ends it. */
    ended: reading,
    stop: () => gone.abort(),
  };
}

const BERTHS = '/api/tables/quay_berths';

/** Adds a berth, or changes one. Gives its number in the table and its version. */
async function saveBerth(caller, values, record) {
  const key = randomUUID();
  const body = { ...record, values };
  const saved = await caller.must('POST', `${BERTHS}/entries`, body, { 'idempotency-key': key });
  return saved.body.record;
}

const session = async ({ callers }) => {
  const logins = await Promise.all(callers.map(async (one) => (await one.must('GET', '/api/session')).body.login));
  return logins.every((login) => login === 'harbourmaster');
};

const definitions = async ({ callers: [first, ...others] }) => {
  await first.must('POST', `${BERTHS}/fields`, { field: { label: 'Depth', type: 'decimal' } });
  const seen = await Promise.all(others.map((one) => one.must('GET', '/api/cabinets/quay')));
  return seen.every(({ body }) => JSON.stringify(body).includes('"depth"'));
};

const events = async ({ callers: [first, second, third] }) => {
  const berth = await saveBerth(first, { number: 'E1' });
  const heard = eventsOf(second, `${BERTHS}/records/${berth.id}/events?version=${berth.version}`);
  await heard.opened;
  await saveBerth(third, { number: 'E2' }, { record: berth.id, version: berth.version });
  await until('the change is heard at another server', () => heard.heard.length > 0);
  heard.stop();
  return true;
};

const idempotency = async ({ callers }) => {
  const key = randomUUID();
  const number = key.slice(0, 8);
  const answers = await Promise.all(
    callers.map((one) => one.call('POST', `${BERTHS}/entries`, { values: { number } }, { 'idempotency-key': key })),
  );
  const { body } = await callers[0].must('GET', `${BERTHS}/records?search=${number}`);
  // Of those that come at the same moment all get the one answer, or are told to come again.
  return answers.some((one) => one?.status === 200) && body.records.length === 1;
};

/** Wrong passwords that an account may be tried with from one address. */
const MOST_TRIES = 8;
const limits = async ({ callers }) => {
  const statuses = [];
  for (let n = 0; n < MOST_TRIES + 2; n++) {
    const stranger = callers[n % callers.length].stranger();
    statuses.push((await stranger.call('POST', '/api/session', { login: 'nobody', password: 'wrong' }))?.status);
  }
  return statuses.indexOf(429) === MOST_TRIES;
};

const files = async ({ callers: [first, second, third] }) => {
  await first.must('POST', `${BERTHS}/fields`, { field: { label: 'Papers', type: 'attachments' } });
  const sent = await first.must('POST', `${BERTHS}/files?field=papers&name=depths.txt`, 'Depth 4.2 m');
  const berth = await saveBerth(second, { number: 'F1', papers: [sent.body.token] });
  const { body } = await third.must('GET', `${BERTHS}/records/${berth.id}`);
  return JSON.stringify(body).includes('depths.txt');
};

/** What holds across servers, in words. */
export const SHARED_STATE = {
  'A session is known to every server': session,
  'A field that was added at one is there at once at the others': definitions,
  'Who has a record open hears what is saved at another server': events,
  'One save sent to all at the same moment is one record': idempotency,
  'Wrong passwords are counted over all servers': limits,
  'A file sent to one is saved by another and read from a third': files,
};
