import type { TriedRipple } from '@fiche/core/api';
import { isBlank } from '@fiche/core/fields';
import { say } from '@fiche/core/languages';
import { type PreparedEffect, type PreparedRipple, prepareRipple, type RippleEvent } from '@fiche/core/ripples';
import { type RecordId, type Ripple, type TableDefinition, typeOf } from '@fiche/core/tables';
import { asActor, type Database, type Transaction } from '../database/index.ts';
import { notFound, Refusal, unacceptable } from '../http/index.ts';
import { findRecord } from '../records/index.ts';
import { type EventLine, eventsOf } from './events.ts';
import type { Saver } from './run.ts';
import { type Running, writeEffect } from './write.ts';

/** Ends a transaction whose work was only tried. */
class OnlyTried extends Error {}

/**
 * What a ripple of a table would write for the last save of one of its records, written and taken back, so that the rules of
 * where it writes are asked too. Throws 422 for a ripple that cannot run, 404 for a record that is not there.
 */
export async function tryRipple(
  database: Database,
  saver: Saver & { readonly now: string },
  table: TableDefinition,
  ripple: Ripple,
  record: RecordId,
): Promise<TriedRipple> {
  const whole = saver.definitions.seen?.whole ?? saver.definitions;
  const prepared = prepareRipple(ripple, table, whole.tables);
  if ('problems' in prepared)
    throw unacceptable(prepared.problems.map((one) => ({ ...one, path: `ripple.${one.path}` })));
  let tried: TriedRipple | undefined;
  await asActor(database, saver.actor, async (transaction) => {
    const running = { ...saver, transaction, whole, seen: saver.definitions };
    const { event, save } = await lastSave(running, table, record, prepared);
    const effects: TriedRipple['effects'] = [];
    let problem: string | null = null;
    for (const effect of prepared.effects) {
      if (problem !== null) break;
      try {
        effects.push(await written(running, prepared, effect, event));
      } catch (error) {
        if (!(error instanceof Refusal)) throw error;
        problem = error.message;
      }
    }
    tried = { save, follows: prepared.follows(event), effects, problem };
    throw new OnlyTried();
  }).catch((error: unknown) => {
    if (!(error instanceof OnlyTried)) throw error;
  });
  if (!tried) throw new Error('The ripple was not tried');
  return tried;
}

/** The newest save of a record as a ripple reads it, and in words. */
async function lastSave(
  { transaction, whole, now }: Running,
  table: TableDefinition,
  record: RecordId,
  ripple: PreparedRipple,
): Promise<{ event: RippleEvent; save: TriedRipple['save'] }> {
  const at = [`data.${table.id}`, String(record)];
  const { rows } = await transaction.raw<{ rows: (EventLine & { account: string; at: string })[] }>(
    `SELECT kind, before, after, account, at FROM ledger.line WHERE place = ? AND record = ? AND transaction =
       (SELECT l.transaction FROM ledger.line l WHERE l.place = ? AND l.record = ? ORDER BY l.id DESC LIMIT 1) ORDER BY id`,
    [...at, ...at],
  );
  const [first] = rows;
  const saving = { account: first?.account ?? '', now };
  const [event] = await eventsOf(transaction, whole.tables, table, new Map([[record, rows]]), [ripple], saving);
  if (!first || !event) throw notFound(say('This record of {label}', { label: table.label }));
  const { title, kind } = event;
  return { event, save: { title, kind, account: first.account, at: first.at } };
}

/** Writes one effect, and reads what it wrote. */
async function written(
  running: Running,
  ripple: PreparedRipple,
  effect: PreparedEffect,
  event: RippleEvent,
): Promise<TriedRipple['effects'][number]> {
  const done = await writeEffect(running, ripple, effect, [event]);
  if (effect.does === 'message') {
    const to = effect.receiverOf(event);
    const { subject, body } = effect.messageOf(event);
    const address = to === null ? say('nobody: the address is blank') : 'login' in to ? to.login : to.address;
    return {
      does: effect.does,
      to: address,
      values: [
        { label: say('Subject'), value: subject },
        { label: say('Text'), value: body },
      ],
    };
  }
  const fields = new Set(Object.keys(effect.valuesOf(event)));
  const id = done[0]?.to ?? (effect.does === 'change' ? effect.recordOf(event) : null);
  if (id === null || id === undefined)
    return { does: effect.does, to: say('{label}: the link is blank', { label: effect.table.label }), values: [] };
  return { does: effect.does, to: effect.table.label, values: await valuesIn(running, effect.table, id, fields) };
}

async function valuesIn(
  { transaction, whole }: { readonly transaction: Transaction; readonly whole: Running['whole'] },
  table: TableDefinition,
  id: RecordId,
  fields: ReadonlySet<string>,
) {
  const { values, linked } = await findRecord(transaction, whole.tables, table.id, id);
  return table.fields.flatMap((field) => {
    const value = values[field.id] ?? null;
    if (!fields.has(field.id) && isBlank(value)) return [];
    const shown = linked[field.id]?.title ?? (isBlank(value) ? 'blank' : typeOf(field).format(value, field.settings));
    return [{ label: field.label, value: shown }];
  });
}
