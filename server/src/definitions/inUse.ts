import { say } from '@fiche/core/languages';
import type { TableDefinition } from '@fiche/core/tables';
import { Refusal } from '../http/index.ts';
import type { Definitions } from './definitions.ts';

/** Holds that a cabinet and the tables in it that are to be written are in use. Throws 409 with what is archived. */
export function requireInUse(definitions: Definitions, cabinet: string, tables: Iterable<TableDefinition> = []): void {
  const archived = [definitions.cabinets.get(cabinet), ...tables].find((one) => one?.archived);
  if (archived)
    throw new Refusal(409, say('{label} is archived. A builder can restore it.', { label: archived.label }));
}
