// Work in the background that a server leaves behind when it is killed: another one takes it up.
import { until } from './until.mjs';

const ROWS = 50_000;

/** Brings a file in: received by one server, checked by another that is killed meanwhile. Gives how long that took and how many rows are there, in words. */
export async function importTakenOver({ callers: [first, second, third], servers, sql }) {
  const file = `Number\n${Array.from({ length: ROWS }, (_, n) => `taken-${n}`).join('\n')}\n`;
  const { body: received } = await first.must('POST', '/api/cabinets/quay/imports?file=berths.csv', file);
  const address = `/api/cabinets/quay/imports/${received.id}`;
  const plan = {
    reading: { kind: 'csv' },
    into: { kind: 'table', table: 'quay_berths' },
    columns: [{ at: 0, name: 'Number', to: { kind: 'field', field: 'number' } }],
  };
  const begun = Date.now();
  const asked = second.call('POST', `${address}/check`, { plan });
  const tasks = async () => (await third.must('GET', '/api/cabinets/quay/tasks')).body.tasks;
  const newest = async () => (await tasks()).find((one) => one.kind.toLowerCase().includes('import'));
  await until('the check has begun', async () => (await newest())?.state === 'running');
  await servers.kill(1);
  await asked;
  await until('another server has checked it', async () => (await newest()).state === 'done', 90);
  const waited = Math.round((Date.now() - begun) / 1_000);
  await servers.startAt(1);
  const { body: task } = await third.must('POST', `${address}/run`, { rows: 'all' });
  await until(
    'it is written',
    async () => (await third.must('GET', `/api/cabinets/quay/tasks/${task.id}`)).body.state === 'done',
    60,
  );
  const [{ n }] = await sql("SELECT count(*)::int AS n FROM data.quay_berths WHERE number LIKE 'taken-%'");
  return { words: `${n} of ${ROWS} rows are there; checked by another server after ${waited} s`, holds: n === ROWS };
}
