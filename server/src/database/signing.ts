import { createHmac, timingSafeEqual } from 'node:crypto';
import type { Database, Transaction } from './pool.ts';

type Queryable = Database | Transaction;

const keys = new WeakMap<object, Promise<string>>();
const keyOf = (database: Queryable): Promise<string> => {
  // A transaction shares the pool of its database, and the key with it.
  const of = database.client.config as object;
  const known =
    keys.get(of) ??
    database('fiche.signing')
      .first('key')
      .then((row) => String(row?.key ?? ''));
  keys.set(of, known);
  return known;
};

/** The signature of a text with the key of this database: HMAC-SHA-256, base64url. */
export const sign = async (database: Queryable, what: string): Promise<string> =>
  createHmac('sha256', await keyOf(database))
    .update(what)
    .digest('base64url');

/** Whether a signature is the one of a text; takes the same time wherever they differ. */
export async function isSigned(database: Queryable, what: string, signature: string): Promise<boolean> {
  const [sent, held] = [Buffer.from(signature), Buffer.from(await sign(database, what))];
  return sent.length === held.length && timingSafeEqual(sent, held);
}

/** A token that stands for a row, `number.signature`: nobody else can make one, and none is kept. */
export const numberToken = async (database: Queryable, what: string, id: number): Promise<string> =>
  `${id}.${await sign(database, `${what} ${id}`)}`;

/** The number of a row that a token stands for; undefined where it is none of ours. */
export async function numberOfToken(database: Queryable, what: string, token: string): Promise<number | undefined> {
  const [number = '', signature = ''] = token.split('.');
  if (!/^[1-9]\d{0,14}$/.test(number)) return undefined;
  return (await isSigned(database, `${what} ${number}`, signature)) ? Number(number) : undefined;
}
