import type { RecordView } from '@fiche/core/api';
import type { PastedRows } from '@fiche/core/changes';
import { holdsFiles, isLinking, type Value } from '@fiche/core/fields';
import type { PreparedForm } from '@fiche/core/forms';
import { say } from '@fiche/core/languages';
import {
  type FieldDefinition,
  findField,
  type RecordId,
  type TableDefinition,
  targetTable,
  titleFields,
  typeOf,
} from '@fiche/core/tables';
import type { Database } from '../database/index.ts';
import type { Definitions } from '../definitions/index.ts';
import { unacceptable } from '../http/index.ts';
import { LinkFinder, type OpenRow } from '../imports/index.ts';
import type { Intent } from './intent.ts';

/** The fields that a block is pasted into. Throws 422 at the place of one that is not there, or that nobody writes. */
export function pastedFields(table: TableDefinition, { fields }: PastedRows): FieldDefinition[] {
  const found = fields.map((id) => findField(table, id));
  const problems = found.flatMap((field, at) => {
    const message = !field
      ? say('{at} is not a field of {label}. Leave its column out.', { at: fields[at] ?? '', label: table.label })
      : !typeOf(field).editable || field.calculation !== null || holdsFiles(field)
        ? say('{label} is not written by people. Leave its column out.', { label: field.label })
        : fields.indexOf(field.id) < at
          ? say('{label} is there twice. Leave one of its columns out.', { label: field.label })
          : undefined;
    return message === undefined ? [] : [{ path: `what.fields.${at}`, rule: 'field', message }];
  });
  if (problems.length > 0) throw unacceptable(problems);
  return found.flatMap((one) => one ?? []);
}

/** What the cells of a pasted block are to records: texts as values, names as the records that they mean. */
export class PastedBlock {
  private readonly rows: ReadonlyMap<RecordId, readonly string[]>;
  private readonly finder: LinkFinder;
  private read = new Map<RecordId, OpenRow>();

  constructor(
    app: Database,
    definitions: Definitions,
    form: PreparedForm,
    private readonly fields: readonly FieldDefinition[],
    what: PastedRows,
  ) {
    this.rows = new Map(what.rows);
    // A record that its role does not see is not there to be named.
    this.finder = new LinkFinder(app, { ...form, tables: definitions.seen?.rows ?? form.tables });
    this.links = fields
      .filter((field) => targetTable(field) !== undefined)
      .map((field) => {
        const [title] = titleFields(form.tables.get(targetTable(field) ?? '') as TableDefinition);
        return { field, matchOn: title?.id ?? null, name: field.id };
      });
  }

  private readonly links: { field: FieldDefinition; matchOn: string | null; name: string }[];

  /** Reads the cells of some records; what else a record links to tells apart what is called the same. */
  async prepare(records: readonly RecordView[]): Promise<void> {
    this.read = new Map(
      records.map(({ id, values: before }) => {
        const cells = this.rows.get(id) ?? [];
        const given = new Set(this.fields.map((field) => field.id));
        const kept = Object.entries(before).filter(([field]) => !given.has(field));
        const row: OpenRow = {
          values: new Map<string, Value>(kept),
          texts: new Map(this.fields.map((field, at) => [field.id, (cells[at] ?? '').trim()])),
          problems: [],
          linked: {},
          items: {},
        };
        for (const field of this.fields) if (!isLinking(field)) readText(field, row);
        return [id, row];
      }),
    );
    await this.finder.find(this.links, [...this.read.values()]);
  }

  intentOf({ id, archived }: RecordView): Intent {
    const row = this.read.get(id);
    if (!row || !this.rows.has(id)) return { kind: 'same' };
    if (archived) return { kind: 'refused', path: '', message: say('It is archived. Restore it first.') };
    const [problem] = row.problems;
    if (problem) return { kind: 'refused', path: problem.column, message: problem.message };
    return {
      kind: 'set',
      values: Object.fromEntries(this.fields.map(({ id: to }) => [to, row.values.get(to) ?? null])),
    };
  }
}

/** The value that a text of a cell is; what cannot be read is a problem at its field. */
function readText(field: FieldDefinition, row: OpenRow): void {
  const text = row.texts.get(field.id) ?? '';
  const read = text === '' ? { ok: true as const, value: null } : typeOf(field).parse(text, field.settings);
  if (read.ok) row.values.set(field.id, read.value);
  else row.problems.push({ column: field.id, message: read.message });
}
