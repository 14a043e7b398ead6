import type { Database } from '../database/index.ts';
import type { Definitions } from '../definitions/index.ts';
import { Refusal } from '../http/index.ts';
import { definitionsFor } from './definitionsFor.ts';

/**
 * The definitions of a cabinet as one of its people has them, for what is sent to them unasked or read by an address that they
 * made. Undefined for somebody who is not of it any more, or whose role works with a second factor only and who has none.
 */
export async function memberDefinitions(
  owner: Database,
  cabinet: string,
  login: string,
): Promise<Definitions | undefined> {
  const definitions = await definitionsFor(owner, cabinet, login).catch((error: unknown) => {
    if (error instanceof Refusal) return undefined;
    throw error;
  });
  if (!definitions?.seen?.role.secondFactor) return definitions;
  const factor = await owner('fiche.second_factor').where({ login }).whereNotNull('confirmed_at').first('login');
  return factor ? definitions : undefined;
}
