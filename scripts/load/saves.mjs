// Saves of stays into the office of quayOffice.mjs, and whether what was acknowledged is there.
import { randomUUID } from 'node:crypto';

/** Lines that each saved stay has. */
const LINES = 3;
/** So many owners are named by all saves of a round, many at once. */
const OWNERS = 40;

const ownerOf = (key) => `${key.split('-')[1]}-${key.charCodeAt(key.length - 1) % OWNERS}`;

const bodyOf = (key, subform) => ({
  values: { name: key, owner__name: ownerOf(key) },
  lines: { [subform]: Array.from({ length: LINES }, (_, n) => ({ key: `l${n}`, values: { item: `${key}-${n}` } })) },
});

const wait = (ms) => new Promise((resolve) => setTimeout(resolve, ms));

/** Saves stays, keeps which were acknowledged, and sends again which were not. */
export class Saves {
  /** Keys of saves that were acknowledged. */
  acknowledged = new Set();
  /** Bodies of saves, by key, that are not known to have been. */
  open = new Map();
  /** How often each save was sent that did not succeed at once. */
  tries = new Map();

  constructor({ form, subform }) {
    this.form = form;
    this.subform = subform;
  }

  /** Sends one save, anew or again. Whether it was acknowledged. */
  async send(caller, key) {
    const body = this.open.get(key) ?? bodyOf(key, this.subform);
    this.open.set(key, body);
    this.tries.set(key, (this.tries.get(key) ?? 0) + 1);
    const answer = await caller.call('POST', `/api/forms/${this.form}/entries`, body, { 'idempotency-key': key });
    if (answer?.status !== 200) return false;
    this.acknowledged.add(key);
    this.open.delete(key);
    return true;
  }

  /**
   * Saves with so many writers until the returned function is called, which waits for them. Each waits `pause` ms after a save that
   * failed, and `pace` ms after one that did not.
   */
  begin(caller, round, { writers = 8, pause = 200, pace = 0 } = {}) {
    let going = true;
    const all = Array.from({ length: writers }, async (_, n) => {
      while (going) {
        const key = `round-${round}-${n}-${randomUUID()}`;
        // A server that is away is not asked all the time: what is open then is sent again, one after the other.
        const rest = (await this.send(caller, key)) ? pace : pause;
        if (rest > 0) await wait(rest);
      }
    });
    return async () => {
      going = false;
      await Promise.all(all);
    };
  }

  /** Sends again what got no answer, until all did. Throws after a hundred rounds. */
  async settle(caller) {
    for (let rounds = 0; this.open.size > 0; rounds++) {
      if (rounds > 100) throw new Error(`${this.open.size} saves are never acknowledged`);
      for (const key of [...this.open.keys()]) await this.send(caller, key);
      if (this.open.size > 0) await wait(200);
    }
  }

  /** Holds what is in the database against what was acknowledged; `sql` runs a statement. */
  async account(sql) {
    const rows = await sql(
      'SELECT s.name, count(DISTINCT s.id)::int AS records, count(l.id)::int AS lines FROM data.quay_stays s LEFT JOIN data.quay_services l ON l.stay = s.id GROUP BY 1',
    );
    const there = new Map(rows.map((row) => [row.name, row]));
    return {
      acknowledged: this.acknowledged.size,
      lost: [...this.acknowledged].filter((key) => !there.has(key)).length,
      doubled: rows.filter((row) => row.records > 1).length,
      half: rows.filter((row) => row.lines !== LINES * row.records).length,
      unasked: rows.filter((row) => !this.acknowledged.has(row.name)).length,
    };
  }
}
