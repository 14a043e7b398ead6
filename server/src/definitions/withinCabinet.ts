import { say } from '@fiche/core/languages';
import { type Tables, tablesNamed } from '@fiche/core/tables';
import { unacceptable } from '../http/index.ts';
import type { Definitions } from './definitions.ts';

const known = new WeakMap<Definitions, Map<string, Definitions>>();

/**
 * The definitions of one cabinet alone. A definition may name tables of its own cabinet only, since rights are given by
 * cabinet; for whatever works with these, a table of another cabinet is not there, whatever a definition says.
 */
export function withinCabinet(all: Definitions, cabinet: string): Definitions {
  const scopes = known.get(all) ?? new Map<string, Definitions>();
  known.set(all, scopes);
  const before = scopes.get(cabinet);
  if (before) return before;
  const here = <T extends { readonly cabinet: string }>(map: ReadonlyMap<string, T>): Map<string, T> =>
    new Map([...map].filter(([, one]) => one.cabinet === cabinet));
  const scope = { ...all, tables: here(all.tables), forms: here(all.forms) };
  scopes.set(cabinet, scope);
  return scope;
}

/** Refuses a definition that names a table which is not among those of its cabinet. Throws 422 at `path`. */
export function refuseForeignTables(tables: Tables, definition: unknown, path: string): void {
  const foreign = tablesNamed(definition).find((id) => !tables.has(id));
  if (foreign !== undefined)
    throw unacceptable([
      {
        path,
        rule: 'table',
        message: say('{foreign} is not a table of this cabinet. Choose one of its tables.', { foreign }),
      },
    ]);
}
