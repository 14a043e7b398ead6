// A simulated tide gauge: a program that writes readings through a token while it runs, as docs/API.md shows.
//   FICHE_TOKEN=fiche_… node demo/gauge.mjs --url http://127.0.0.1:4600 --table gannet_tide_readings
// The table has a number field (m) and a date-time field, named by `--height` and `--at`, which may be '' for none. `--every` seconds (5), `--times` (no end).
import { randomUUID } from 'node:crypto';
import { parseArgs } from 'node:util';

const { values: given } = parseArgs({
  options: {
    url: { type: 'string', default: 'http://127.0.0.1:4600' },
    table: { type: 'string', default: 'gannet_tide_readings' },
    height: { type: 'string', default: 'height' },
    at: { type: 'string', default: 'at' },
    every: { type: 'string', default: '5' },
    times: { type: 'string', default: 'Infinity' },
  },
});
const token = process.env.FICHE_TOKEN;
if (!token) {
  process.stderr.write('Set FICHE_TOKEN to the token that the People page made for this program.\n');
  process.exit(2);
}

/** The height of the tide in metres, to 10 cm: a semidiurnal wave of 12 h 25 min around 2.4 m. */
const heightAt = (ms) => Number((2.4 + 1.7 * Math.sin((2 * Math.PI * ms) / (12.42 * 3_600_000))).toFixed(1));

const wait = (ms) => new Promise((resolve) => setTimeout(resolve, ms));

/** Writes one reading. The same key is sent with every try of it, so that a lost answer does not write it twice. */
async function write(now) {
  const key = randomUUID();
  const values = {
    [given.height]: heightAt(now.getTime()),
    ...(given.at && { [given.at]: now.toISOString().slice(0, 16) }),
  };
  for (let tries = 1; ; tries++) {
    const reply = await fetch(`${given.url}/api/tables/${given.table}/entries`, {
      method: 'POST',
      headers: { authorization: `Bearer ${token}`, 'content-type': 'application/json', 'idempotency-key': key },
      body: JSON.stringify({ values }),
    }).catch(() => undefined);
    if (reply?.ok) return `${(await reply.json()).record.title}: ${values[given.height]} m`;
    const problem = await reply?.json().catch(() => undefined);
    // What is refused stays refused; without an answer, or when it is too much, the gauge tries again.
    if (reply && reply.status !== 429 && reply.status < 500)
      throw new Error(
        [problem?.detail, ...(problem?.errors ?? []).map((one) => `${one.path}: ${one.message}`)].join(' '),
      );
    const seconds = Number(reply?.headers.get('retry-after') ?? Math.min(60, 2 ** tries));
    process.stderr.write(`No answer (${reply?.status ?? 'no connection'}): again in ${seconds} s\n`);
    await wait(seconds * 1_000);
  }
}

try {
  for (let left = Number(given.times); left > 0; left--) {
    process.stdout.write(`${await write(new Date())}\n`);
    if (left > 1) await wait(Number(given.every) * 1_000);
  }
} catch (error) {
  process.stderr.write(`${error.message}\n`);
  process.exit(1);
}
