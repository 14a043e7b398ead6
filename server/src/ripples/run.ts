import { civilNow } from '@fiche/core/office';
import type { PreparedRipple, RippleEvent } from '@fiche/core/ripples';
import type { TableId } from '@fiche/core/tables';
import { type Actor, asActor, type Database, setActor, type Transaction } from '../database/index.ts';
import type { Definitions } from '../definitions/index.ts';
import { announce } from '../events/index.ts';
import type { MailSettings } from '../services.ts';
import { eventsOf, type LedgerMark, ledgerMark, linesOf, writtenSince } from './events.ts';
import { runningRipples } from './prepared.ts';
import { type Running, type Written, writeEffect } from './write.ts';

/** Who saves records, with what they see of the cabinet. */
export interface Saver {
  readonly actor: Actor;
  /** The signed-in account; null on a public page. */
  readonly account: string | null;
  /** The definitions of the cabinet as the caller has them, or all of them. */
  readonly definitions: Definitions;
  readonly mail: MailSettings;
}

/** Records whose ripples are decided together. */
const BATCH = 500;
/** Ripples that set off others: more rounds than ripples means a circle, which definitions exclude. */
const MOST_ROUNDS = 50;
/** Open cards of so many records are told at once that a ripple has changed them. */
const ANNOUNCED = 100;

/**
 * Runs `work` in one transaction that writes as the saver, and then the ripples of every record that it wrote, and of what
 * they write in turn: all of it is saved, or nothing. Throws 422 where a ripple cannot write what it has to. With `takenBackBy`
 * all is taken back in the end, and its error thrown.
 */
export const savingRecords = <T>(
  database: Database,
  saver: Saver,
  work: (transaction: Transaction) => Promise<T>,
  takenBackBy?: () => Error,
): Promise<T> =>
  asActor(database, saver.actor, async (transaction) => {
    const result = await withRipples(transaction, saver, () => work(transaction));
    if (takenBackBy) throw takenBackBy();
    return result;
  });

/** The same in a transaction that goes on. Its actor must be set. */
export async function withRipples<T>(transaction: Transaction, saver: Saver, work: () => Promise<T>): Promise<T> {
  const whole = saver.definitions.seen?.whole ?? saver.definitions;
  const ripples = runningRipples(whole.tables);
  if (ripples.size === 0) return work();
  const mark = await ledgerMark(transaction);
  const result = await work();
  const running = {
    ...saver,
    transaction,
    whole,
    seen: saver.definitions,
    now: saver.actor.at?.slice(0, 16) ?? civilNow(),
  };
  await runSince(running, ripples, mark);
  return result;
}

async function runSince(
  running: Running,
  ripples: ReadonlyMap<TableId, readonly PreparedRipple[]>,
  from: LedgerMark,
): Promise<void> {
  let since = from;
  let ran = false;
  for (let round = 0; ; round++) {
    const written = await writtenSince(running.transaction, since, [...ripples.keys()]);
    if (written.size === 0) break;
    if (round > MOST_ROUNDS) throw new Error('Ripples run in a circle');
    for (const [id, records] of written) {
      const table = running.whole.tables.get(id);
      const own = ripples.get(id) ?? [];
      if (!table) continue;
      ran = true;
      for (let at = 0; at < records.length; at += BATCH) {
        const lines = await linesOf(running.transaction, id, records.slice(at, at + BATCH), from.moment);
        const saving = { account: running.actor.name, now: running.now };
        const events = await eventsOf(running.transaction, running.whole.tables, table, lines, own, saving);
        for (const ripple of own)
          await runOne(
            running,
            ripple,
            events.filter((event) => ripple.follows(event)),
          );
      }
    }
    since = { ...from, line: [...written.values()].flat().reduce((most, one) => Math.max(most, one.last), since.line) };
  }
  if (ran) await setActor(running.transaction, running.actor);
}

/** Runs one ripple for the saves that it follows, effect by effect, and keeps which saves it followed and what it wrote. */
async function runOne(running: Running, ripple: PreparedRipple, events: readonly RippleEvent[]): Promise<void> {
  if (events.length === 0) return;
  const { transaction, actor } = running;
  const written: Written[] = [];
  for (const effect of ripple.effects) written.push(...(await writeEffect(running, ripple, effect, events)));
  // A save after which there was nothing to write is followed too: it is not among those that were missed.
  const wrote = new Set(written.map((one) => one.record));
  written.push(...events.flatMap(({ record }) => (wrote.has(record) ? [] : [{ record }])));
  await transaction.raw(
    `INSERT INTO fiche.rippled (ripple, table_id, record, to_table, to_record)
     SELECT ?, ?, w.record, w.to_table, w.to_record FROM unnest(?::bigint[], ?::text[], ?::bigint[]) AS w(record, to_table, to_record)`,
    [
      ripple.ripple.id,
      ripple.table.id,
      written.map((one) => one.record),
      written.map((one) => one.table ?? null),
      written.map((one) => one.to ?? null),
    ] as unknown as string[],
  );
  for (const one of written.slice(0, ANNOUNCED))
    if (one.table !== undefined && one.to !== undefined) await announce(transaction, actor.name, one.table, one.to);
}
