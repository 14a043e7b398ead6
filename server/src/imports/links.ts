import { linksOne, linksSeveral, readItems, type Value } from '@fiche/core/fields';
import type { PreparedForm } from '@fiche/core/forms';
import { say } from '@fiche/core/languages';
import { sourceOf } from '@fiche/core/narrowing';
import { quoted, recordsOf, relation } from '@fiche/core/queries';
import {
  type FieldDefinition,
  type FieldId,
  findField,
  linkedTable,
  type TableDefinition,
  targetTable,
  typeOf,
} from '@fiche/core/tables';
import type { Database } from '../database/index.ts';
import { factsSql, readFacts, showTitle, titleSql } from '../records/index.ts';

interface Candidate {
  readonly id: number;
  readonly title: string;
  readonly facts: Record<string, Value>;
  /** What it links to itself, by table: a berth's pontoon. */
  readonly parents: Readonly<Record<string, number | null>>;
}

/** A row while its links are found. */
export interface OpenRow {
  readonly values: Map<string, Value>;
  readonly texts: ReadonlyMap<string, string>;
  readonly problems: { column: string; message: string }[];
  readonly linked: Record<string, { title: string; facts: Record<string, Value> }>;
  /** The columns of each record that a cell of several links names. */
  readonly items: Record<string, Record<string, Value>[]>;
}

/**
 * Finds the records that cells name. Asked once for each text; where several records have a name, those count that agree
 * with the other links of the row: of the berths A-1, the one on the row's own pontoon.
 */
export class LinkFinder {
  private readonly known = new Map<string, Map<string, Candidate[]>>();
  private readonly lists = new Map<string, Set<string>>();

  constructor(
    private readonly app: Database,
    private readonly form: PreparedForm,
  ) {}

  async find(
    wanted: readonly { field: FieldDefinition; matchOn: string | null; name: string }[],
    rows: readonly OpenRow[],
  ): Promise<void> {
    for (const { field, matchOn } of wanted) await this.ask(field, matchOn, rows);
    // A name that is one record's alone is certain; the others are told apart by what is certain.
    for (const certain of [true, false])
      for (const { field, name } of wanted)
        for (const row of rows) if (!row.values.has(field.id)) this.settle(field, name, row, certain);
  }

  private async ask(field: FieldDefinition, matchOn: string | null, rows: readonly OpenRow[]): Promise<void> {
    const { tables } = this.form;
    const target = tables.get(targetTable(field) ?? '');
    const column = findField(target, matchOn ?? '');
    const known = this.known.get(field.id) ?? new Map<string, Candidate[]>();
    this.known.set(field.id, known);
    if (!target || !column) return;
    const texts = new Set<string>();
    for (const row of rows) for (const text of textsOf(field, row)) if (!known.has(key(text))) texts.add(text);
    if (texts.size === 0) return;
    const keys = [...texts].flatMap((text): [string, Value][] => {
      const read = typeOf(column).parse(text, column.settings);
      return read.ok && read.value !== null && typeof read.value !== 'object' ? [[key(text), read.value]] : [];
    });
    for (const text of texts) known.set(key(text), []);
    const parents = parentsOf(target);
    const text = typeOf(column).family === 'text';
    const paths = this.form.fields.get(field.id)?.factPaths ?? [];
    const { rows: found } = await this.app.raw<{
      rows: {
        id: number;
        title: unknown;
        name: unknown;
        facts: Record<string, unknown>;
        parents: Record<string, number | null>;
      }[];
    }>(
      // Upper and lower case are the database's to say: JavaScript takes some letters, such as İ, for others.
      `SELECT t.id, ${titleSql(tables, target, 't')} AS title, given.name,
         ${factsSql(tables, target.id, 't', paths)} AS facts,
         json_build_object(${parents.map((one) => `'${linkedTable(one)}', t.${quoted(one.id)}`).join(', ')}) AS parents
       FROM unnest(?::text[]) AS given(name) JOIN ${recordsOf(tables, target.id)} t ON ${text ? `lower(t.${quoted(column.id)}) = lower(given.name)` : `t.${quoted(column.id)}::text = given.name`}
       WHERE t.archived_at IS NULL ORDER BY t.id`,
      [[...new Set(keys.map(([, value]) => String(value)))]] as unknown as string[],
    );
    const byName = new Map<string, Candidate[]>();
    for (const one of found) {
      const candidate = {
        id: one.id,
        title: showTitle(tables, target, one.title),
        facts: { ...readFacts(tables, target.id, one.facts) },
        parents: one.parents,
      };
      byName.set(String(one.name), [...(byName.get(String(one.name)) ?? []), candidate]);
    }
    for (const [name, value] of keys) known.set(name, byName.get(String(value)) ?? []);
  }

  private settle(field: FieldDefinition, name: string, row: OpenRow, certain: boolean): void {
    const target = this.form.tables.get(targetTable(field) ?? '');
    const texts = textsOf(field, row);
    if (texts.length === 0) {
      row.values.set(field.id, null);
      return;
    }
    const chosen: Candidate[] = [];
    for (const text of texts) {
      const all = this.known.get(field.id)?.get(key(text)) ?? [];
      if (certain && all.length > 1) return;
      const agreeing = all.filter((one) => this.agrees(one, row));
      const found = all.length === 1 ? all : agreeing;
      const [only] = found;
      if (!only || found.length > 1) {
        row.values.set(field.id, null);
        row.problems.push({ column: name, message: notOne(target, text, all.length, found.length) });
        return;
      }
      chosen.push(only);
    }
    row.values.set(field.id, linksSeveral(field) ? chosen.map((one) => one.id) : (chosen[0]?.id ?? null));
    if (linksSeveral(field)) row.items[field.id] = chosen.map((one) => one.facts);
    const [first] = chosen;
    if (first && linksOne(field)) row.linked[field.id] = { title: first.title, facts: first.facts };
  }

  /** Whether a record links to the same as the row does, where both say. */
  private agrees(one: Candidate, row: OpenRow): boolean {
    return this.form.table.fields.every((field) => {
      const table = linkedTable(field);
      const mine = row.values.get(field.id);
      const theirs = table === undefined ? undefined : one.parents[table];
      return typeof mine !== 'number' || theirs === undefined || theirs === null || theirs === mine;
    });
  }

  /** Reads the option lists whose levels the table's fields are. */
  async combinations(): Promise<void> {
    for (const field of this.form.table.fields) {
      const source = sourceOf(field);
      const list = this.form.tables.get(source?.table ?? '');
      if (!source?.column || !list || this.lists.has(field.id)) continue;
      const levels = this.levelsOf(field).map((one) => `coalesce(l.${quoted(one.column)}, '')`);
      const { rows } = await this.app.raw<{ rows: { words: string[] }[] }>(
        `SELECT DISTINCT ARRAY[${levels.join(', ')}] AS words FROM ${relation(list.id)} l WHERE l.archived_at IS NULL`,
      );
      this.lists.set(field.id, new Set(rows.map((row) => JSON.stringify(row.words))));
    }
  }

  /** Whether a level's word stands in its option list under the words of all levels above it. */
  allows(field: FieldDefinition, values: ReadonlyMap<string, Value>): boolean {
    const words = this.levelsOf(field).map((one) => String(values.get(one.field) ?? ''));
    return this.lists.get(field.id)?.has(JSON.stringify(words)) ?? false;
  }

  /** The levels from the top down to a field's own that the table has fields for. */
  private levelsOf(field: FieldDefinition): { field: FieldId; column: string }[] {
    const source = sourceOf(field);
    const levels = this.form.tables.get(source?.table ?? '')?.fields ?? [];
    return levels.slice(0, levels.findIndex((level) => level.id === source?.column) + 1).flatMap((level) => {
      const own = this.form.table.fields.find((one) => {
        const other = sourceOf(one);
        return other?.table === source?.table && other?.column === level.id;
      });
      return own ? [{ field: own.id, column: level.id }] : [];
    });
  }
}

const key = (text: string): string => text.normalize('NFC').trim();

const textsOf = (field: FieldDefinition, row: OpenRow): string[] => {
  const text = row.texts.get(field.id) ?? '';
  if (text === '') return [];
  return linksSeveral(field) ? readItems(text) : [text];
};

const parentsOf = (table: TableDefinition): FieldDefinition[] =>
  table.fields.filter((field) => linkedTable(field) !== undefined);

function notOne(target: TableDefinition | undefined, text: string, all: number, agreeing: number): string {
  const label = target?.label ?? say('the linked table');
  if (all === 0)
    return say('There is no record of {label} called “{text}”. Add it first, or correct the name.', { label, text });
  if (agreeing === 0)
    return say('No record of {label} called “{text}” belongs to the values beside it.', { label, text });
  return say(
    'Several records of {label} are called “{text}”. Match it on another column, or add a column that tells them apart.',
    { label, text },
  );
}
