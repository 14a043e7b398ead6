import { type Readable as ReadableEntry, readOperand } from '@fiche/core/entry';
import { isBlank, type Problem, type Value } from '@fiche/core/fields';
import { generateForm, type PreparedForm, prepareForm } from '@fiche/core/forms';
import { type ImportPlan, readCell } from '@fiche/core/imports';
import { sourceOf } from '@fiche/core/narrowing';
import { brokenRule } from '@fiche/core/rules';
import {
  checkField,
  type FieldDefinition,
  findField,
  type TableDefinition,
  type Tables,
  targetTable,
  typeOf,
} from '@fiche/core/tables';
import type { Database } from '../database/index.ts';
import { Refusal } from '../http/index.ts';
import { LinkFinder } from './links.ts';
import type { FileRow } from './rows.ts';
import type { Target } from './targets.ts';

type Checked =
  | { readonly row: FileRow; readonly values: ReadonlyMap<string, Value> }
  | { readonly row: FileRow; readonly problems: readonly { column: string; message: string }[] };

/** Checks rows by all that one row can be checked by: types, limits, required, links, combinations, rules. */
export class RowChecker {
  private readonly form: PreparedForm;
  private readonly links: LinkFinder;
  private readonly requiredElsewhere: readonly FieldDefinition[];

  constructor(
    app: Database,
    tables: Tables,
    private readonly table: TableDefinition,
    private readonly targets: readonly Target[],
    plan: ImportPlan,
  ) {
    const known = new Map(tables).set(table.id, table);
    this.form = prepareForm(generateForm(table), known);
    this.links = new LinkFinder(app, this.form);
    const given = new Set(targets.map((one) => one.field.id));
    this.requiredElsewhere = table.fields.filter(
      (field) => field.required && !given.has(field.id) && typeOf(field).editable && field.initial?.kind !== 'value',
    );
    // A record that is only changed keeps what the file does not have.
    const adds = plan.key.length === 0 || plan.missing === 'add';
    const [missing] = this.requiredElsewhere;
    if (missing && adds)
      throw new Refusal(
        422,
        `${missing.label} is required in ${table.label}, and no column goes there. Choose one, or give the field a default.`,
      );
  }

  async check(rows: readonly FileRow[]): Promise<Checked[]> {
    const read = rows.map((row) => this.read(row));
    await this.links.find(
      this.targets
        .filter(({ field }) => targetTable(field) !== undefined)
        .map(({ field, column }) => ({ field, matchOn: column.matchOn })),
      read,
    );
    await this.links.combinations();
    return read.map((one, at) => {
      const row = rows[at] as FileRow;
      const problems = [...one.problems, ...this.problemsOf(one)];
      if (problems.length > 0) return { row, problems };
      return { row, values: one.values };
    });
  }

  private read(row: FileRow) {
    const values = new Map<string, Value>();
    const texts = new Map<string, string>();
    const problems: { column: string; message: string }[] = [];
    for (const { column, field, how } of this.targets) {
      const cell = row.cells[column.at] ?? '';
      if (targetTable(field) !== undefined) {
        texts.set(field.id, cell.trim());
        continue;
      }
      const found = readCell(field, cell, how);
      if (!found.ok) problems.push({ column: column.name, message: found.message });
      else values.set(field.id, found.value);
    }
    return { values, texts, problems, linked: {} as Record<string, { title: string; facts: Record<string, Value> }> };
  }

  private problemsOf(one: ReturnType<RowChecker['read']>): { column: string; message: string }[] {
    const found: { column: string; message: string }[] = [];
    for (const { column, field } of this.targets) {
      if (one.problems.some((problem) => problem.column === column.name)) continue;
      const value = one.values.get(field.id) ?? null;
      if (isBlank(value) && field.required && field.initial?.kind === 'value')
        one.values.set(field.id, field.initial.value);
      for (const problem of checkField(field, one.values.get(field.id) ?? null, field.required))
        found.push({ column: column.name, message: problem.message });
      if (!isBlank(value) && sourceOf(field)?.column !== undefined && !this.links.allows(field, one.values))
        found.push({
          column: column.name,
          message: `“${value}” is not in the option list under what stands beside it.`,
        });
    }
    if (found.length > 0 || one.problems.length > 0) return found;
    const entry: ReadableEntry = {
      form: this.form,
      account: null,
      values: Object.fromEntries(one.values),
      linked: one.linked,
    };
    for (const rule of this.form.rules) {
      const broken: Problem | undefined = brokenRule(rule, (operand) => readOperand(entry, operand));
      if (broken) found.push({ column: this.nameOf(broken.path), message: broken.message });
    }
    return found;
  }

  private nameOf(field: string): string {
    return (
      this.targets.find((one) => one.field.id === field)?.column.name ?? findField(this.table, field)?.label ?? field
    );
  }
}
