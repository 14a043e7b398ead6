import { createHash } from 'node:crypto';
import { readFileSync } from 'node:fs';
import { say } from '@fiche/core/languages';
import type { Transaction } from '../database/index.ts';
import type { Found } from './found.ts';

/** What the migrations make: functions by signature with the SHA-256 of all that counts of them, triggers by table. */
interface Structure {
  readonly functions: Readonly<Record<string, string>>;
  readonly triggers: Readonly<Record<string, readonly string[]>>;
}

/** The structure that this version's migrations make; a test holds the file to a database fresh from them. */
export const expectedStructure = (): Structure =>
  JSON.parse(readFileSync(new URL('../database/structure.json', import.meta.url), 'utf8')) as Structure;

const GENERATED = "p.proname ~ '^of_\\d+_(added|changed|erased)$'";

/** The functions and triggers of the schemas `fiche` and `ledger` as they are now, without those made for one table. */
export async function structureOf(transaction: Transaction): Promise<Structure> {
  const { rows: functions } = await transaction.raw<{ rows: { name: string; source: string }[] }>(`
    SELECT n.nspname || '.' || p.proname || '(' || pg_get_function_identity_arguments(p.oid) || ')' AS name,
      concat_ws(E'\\x1f', l.lanname, p.prosecdef, p.provolatile, array_to_string(p.proconfig, ','), p.proowner = n.nspowner,
        replace(p.prosrc, quote_literal(n.nspowner::regrole::text), '''{owner}''')) AS source
    FROM pg_proc p JOIN pg_namespace n ON n.oid = p.pronamespace JOIN pg_language l ON l.oid = p.prolang
    WHERE n.nspname IN ('fiche', 'ledger') AND NOT (${GENERATED}) ORDER BY 1`);
  const { rows: triggers } = await transaction.raw<{ rows: { place: string; made: string[] }[] }>(`
    SELECT n.nspname || '.' || c.relname AS place, array_agg(pg_get_triggerdef(t.oid) || ' ' || t.tgenabled::text ORDER BY t.tgname) AS made
    FROM pg_trigger t JOIN pg_class c ON c.oid = t.tgrelid JOIN pg_namespace n ON n.oid = c.relnamespace
    WHERE n.nspname IN ('fiche', 'ledger') AND NOT t.tgisinternal AND c.relname !~ '^line_' GROUP BY 1 ORDER BY 1`);
  return {
    functions: Object.fromEntries(
      functions.map(({ name, source }) => [name, createHash('sha256').update(source, 'utf8').digest('hex')]),
    ),
    triggers: Object.fromEntries(triggers.map(({ place, made }) => [place, made])),
  };
}

const misfit = (place: string, what: string): Found => ({ what, line: null, seal: null, place, record: null });

/** Functions, triggers and rewrite rules that are not the ones that the migrations made. */
export async function structureMisfits(transaction: Transaction): Promise<Found[]> {
  const [expected, there] = [expectedStructure(), await structureOf(transaction)];
  const found: Found[] = [];
  for (const name of new Set([...Object.keys(expected.functions), ...Object.keys(there.functions)]))
    if (expected.functions[name] !== there.functions[name])
      found.push(
        misfit(
          name,
          there.functions[name] === undefined
            ? say('this function is not there')
            : say('this function is not the one that the migrations made'),
        ),
      );
  for (const place of new Set([...Object.keys(expected.triggers), ...Object.keys(there.triggers)])) {
    const [made, wanted] = [there.triggers[place] ?? [], expected.triggers[place] ?? []];
    for (const one of wanted.filter((trigger) => !made.includes(trigger)))
      found.push(misfit(place, say('its trigger {one} is missing, switched off or altered', { one: nameOf(one) })));
    for (const one of made.filter((trigger) => !wanted.includes(trigger)))
      if (!wanted.some((trigger) => nameOf(trigger) === nameOf(one)))
        found.push(misfit(place, say('it has a trigger that is not ours, {one}', { one: nameOf(one) })));
  }
  return [...found, ...(await partitionMisfits(transaction)), ...(await recordTableMisfits(transaction))];
}

const nameOf = (trigger: string): string => /TRIGGER (\S+)/.exec(trigger)?.[1] ?? trigger;

async function partitionMisfits(transaction: Transaction): Promise<Found[]> {
  const { rows } = await transaction.raw<{ rows: { place: string; what: string }[] }>(`
    SELECT 'ledger.' || c.relname AS place, 'a partition of the ledger is missing a trigger, or has one that is not ours' AS what
    FROM pg_inherits i JOIN pg_class c ON c.oid = i.inhrelid WHERE i.inhparent = 'ledger.line'::regclass
      AND (SELECT array_agg(t.tgname || ' ' || p.proname || ' ' || t.tgenabled::text ORDER BY t.tgname) FROM pg_trigger t JOIN pg_proc p ON p.oid = t.tgfoid WHERE t.tgrelid = c.oid AND NOT t.tgisinternal)
        IS DISTINCT FROM ARRAY['refuse_alteration refuse_line O', 'refuse_truncation refuse O']
    UNION ALL
    SELECT n.nspname || '.' || c.relname, 'a rewrite rule or a row policy stands on it' FROM pg_class c JOIN pg_namespace n ON n.oid = c.relnamespace
    WHERE n.nspname IN ('fiche', 'ledger', 'data') AND c.relkind IN ('r', 'p') AND (c.relhasrules OR c.relrowsecurity)`);
  return rows.map(({ place, what }) => misfit(place, what));
}

/** Record tables whose capture is not what `ledger.capture_body` writes for their columns, and tables that nobody knows. */
async function recordTableMisfits(transaction: Transaction): Promise<Found[]> {
  const { rows } = await transaction.raw<{ rows: { place: string; what: string }[] }>(`
    WITH known AS (SELECT t.id AS name FROM fiche."table" t),
      pairs AS (SELECT f.settings->>'pairs' AS name FROM fiche.field f WHERE f.settings->>'pairs' IS NOT NULL),
      there AS (SELECT c.oid, c.relname::text AS name FROM pg_class c JOIN pg_namespace n ON n.oid = c.relnamespace WHERE n.nspname = 'data' AND c.relkind = 'r'),
      wanted(name, kind) AS (SELECT k.name, kind FROM known k JOIN there USING (name), unnest(ARRAY['added', 'changed', 'erased']) kind)
    SELECT 'data.' || name AS place, 'the list of tables does not name it' AS what FROM there
      WHERE name NOT IN (SELECT name FROM known) AND name NOT IN (SELECT name FROM pairs WHERE name IS NOT NULL)
    UNION ALL SELECT 'data.' || name, 'the list of tables names it, and it is not there' FROM known WHERE name NOT IN (SELECT name FROM there)
    UNION ALL SELECT 'data.' || w.name, 'the capture of what is ' || w.kind || ' is missing, switched off or altered' FROM wanted w JOIN there USING (name)
      LEFT JOIN pg_trigger t ON t.tgrelid = there.oid AND t.tgname = 'capture_' || w.kind LEFT JOIN pg_proc p ON p.oid = t.tgfoid
      WHERE p.prosrc IS NULL OR t.tgenabled <> 'O' OR NOT p.prosecdef OR p.prosrc <> ledger.capture_body(w.name, w.kind)
        OR p.proconfig[1] IS DISTINCT FROM 'search_path=pg_catalog, pg_temp'
    UNION ALL SELECT 'data.' || k.name, 'its trigger ' || need.trigger || ' is missing or switched off' FROM known k JOIN there USING (name)
      CROSS JOIN (VALUES ('stamp', 'stamp'), ('refuse_truncation', 'refuse_truncation'), ('notify_changed', 'notify_changed')) need(trigger, function)
      WHERE NOT EXISTS (SELECT FROM pg_trigger t JOIN pg_proc p ON p.oid = t.tgfoid WHERE t.tgrelid = there.oid AND t.tgname = need.trigger AND t.tgenabled = 'O' AND p.proname = need.function)
    UNION ALL SELECT 'data.' || there.name, 'it has a trigger that is not ours, ' || t.tgname FROM there JOIN pg_trigger t ON t.tgrelid = there.oid JOIN pg_proc p ON p.oid = t.tgfoid
      WHERE NOT t.tgisinternal AND NOT (p.proname IN ('stamp', 'refuse_truncation', 'keep_pairs', 'refuse_circle', 'hold_at_most', 'notify_changed') OR t.tgname IN ('capture_added', 'capture_changed', 'capture_erased'))
    ORDER BY 1, 2`);
  return rows.map(({ place, what }) => misfit(place, what));
}
