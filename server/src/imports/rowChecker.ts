import { pathsOf } from '@fiche/core/conditions';
import { defaultOf, fitsNarrowing, type Readable as ReadableEntry, readOperand } from '@fiche/core/entry';
import { giveResult } from '@fiche/core/expressions';
import { isBlank, namesPeople, type Parsed, type Value } from '@fiche/core/fields';
import { generateForm, type PreparedForm, prepareForm, rootOf } from '@fiche/core/forms';
import { type ImportPlan, readCell } from '@fiche/core/imports';
import { joinedWords, say, sayLater } from '@fiche/core/languages';
import { sourceOf } from '@fiche/core/narrowing';
import { breaks } from '@fiche/core/rules';
import {
  checkField,
  type FieldId,
  findField,
  isGiven,
  type TableDefinition,
  type Tables,
  targetTable,
  typeOf,
} from '@fiche/core/tables';
import { peopleOf } from '../accounts/index.ts';
import type { Database } from '../database/index.ts';
import { Refusal } from '../http/index.ts';
import { LinkFinder, type OpenRow } from './links.ts';
import { type KnownRecord, recordsByKey } from './records.ts';
import type { FileRow } from './rows.ts';
import type { Target } from './targets.ts';

/** Who brings the rows in and when: what `account`, `today` and `now` mean in a default and a rule. */
interface Opening {
  readonly account: string;
  readonly now: string;
}

export interface CellProblem {
  readonly column: string;
  readonly message: string;
}

/** What becomes of a row, with the record as it would be then: the file's cells over what is there, or over defaults. */
export interface GoodRow {
  readonly row: FileRow;
  readonly action: 'add' | 'change' | 'skip';
  readonly record: KnownRecord | undefined;
  readonly values: ReadonlyMap<string, Value>;
}

export type Checked = GoodRow | { readonly row: FileRow; readonly problems: readonly CellProblem[] };

const UNSOUND = sayLater('This cell has a character that no text can hold, such as NUL (shown as ␀). Remove it.');

/** Checks rows by all that one row can be checked by: types, limits, required, links, combinations, rules. */
export class RowChecker {
  private readonly form: PreparedForm;
  private readonly links: LinkFinder;
  private readonly defaults: ReadonlyMap<string, Value>;
  /** Display names of the cabinet’s people by login; asked for where a column names them. */
  private people: ReadonlyMap<string, string> = new Map();

  constructor(
    private readonly app: Database,
    tables: Tables,
    private readonly table: TableDefinition,
    private readonly targets: readonly Target[],
    private readonly plan: ImportPlan,
    private readonly opening: Opening,
  ) {
    const known = tables.get(table.id) === table ? tables : new Map(tables).set(table.id, table);
    this.form = prepareForm(generateForm(table), known);
    this.links = new LinkFinder(app, this.form);
    this.defaults = new Map(table.fields.map((field) => [field.id, defaultOf(field.initial, field, opening)]));
    const given = new Set(targets.map((one) => one.field.id));
    const missing = table.fields.find(
      (field) => field.required && !given.has(field.id) && !isGiven(field) && isBlank(this.defaults.get(field.id)),
    );
    // With a key, each row says for itself whether a new record would lack it.
    if (missing && plan.key.length === 0)
      throw new Refusal(
        422,
        say('{label} is required in {other}, and no column goes there. Choose one, or give the field a default.', {
          label: missing.label,
          other: table.label,
        }),
      );
  }

  async check(rows: readonly FileRow[]): Promise<Checked[]> {
    if (this.people.size === 0 && this.targets.some(({ field }) => namesPeople(field)))
      this.people = await peopleOf(this.app, this.table.cabinet);
    const read = rows.map((row) => this.read(row));
    const links = this.targets.filter(({ field }) => targetTable(field) !== undefined);
    await this.links.find(
      links.map(({ field, column }) => ({ field, matchOn: column.matchOn, name: column.name })),
      read,
    );
    await this.links.combinations();
    const { key } = this.plan;
    const found = await recordsByKey(
      this.app,
      this.form,
      this.plan.into.kind === 'table' ? key : [],
      key.length === 0 ? [] : read.map((one) => one.values),
    );
    return read.map((one, at) => this.settle(rows[at] as FileRow, one, found(one.values)));
  }

  private read(row: FileRow): OpenRow {
    const values = new Map<string, Value>();
    const texts = new Map<string, string>();
    const problems: CellProblem[] = [];
    for (const { column, field, how } of this.targets) {
      const cell = row.cells[column.at] ?? '';
      if (row.unsound?.includes(column.at)) {
        problems.push({ column: column.name, message: say(UNSOUND) });
        continue;
      }
      if (targetTable(field) !== undefined) {
        texts.set(field.id, cell.trim());
        continue;
      }
      const found = namesPeople(field) ? this.personNamed(cell) : readCell(field, cell, how);
      if (!found.ok) problems.push({ column: column.name, message: found.message });
      else values.set(field.id, found.value);
    }
    return { values, texts, problems, linked: {}, items: {} };
  }

  /** One of the cabinet’s people, by login or, where only one has it, by display name. */
  private personNamed(cell: string): Parsed {
    const text = cell.trim().toLowerCase();
    if (text === '' || this.people.has(text)) return { ok: true, value: text === '' ? null : text };
    const called = [...this.people].filter(([, name]) => name.toLowerCase() === text);
    const [only] = called;
    if (only && called.length === 1) return { ok: true, value: only[0] };
    const said = { text: cell.trim() };
    return {
      ok: false,
      message:
        called.length > 1
          ? say('Several people of this cabinet are called “{text}”. Write the login.', said)
          : say('Nobody of this cabinet is called “{text}”. Write the login.', said),
    };
  }

  private settle(row: FileRow, one: OpenRow, found: readonly KnownRecord[]): Checked {
    const live = found.filter((record) => !record.archived);
    const [record] = live;
    const problems = [...one.problems, ...this.keyProblems(one, found, live)];
    const action = record ? this.plan.found : this.plan.missing;
    const values = this.completed(one, record);
    const linked = { ...record?.linked, ...one.linked };
    this.calculate(values, linked, record === undefined);
    if (problems.length === 0 && action !== 'skip') problems.push(...this.problemsOf(values, linked, one.items));
    return problems.length > 0 ? { row, problems } : { row, action, record, values };
  }

  private keyProblems(one: OpenRow, found: readonly KnownRecord[], live: readonly KnownRecord[]): CellProblem[] {
    const { key } = this.plan;
    const [first] = key;
    if (first === undefined || this.plan.into.kind === 'new') return [];
    const label = joinedWords(key.map((id) => findField(this.table, id)?.label ?? id));
    const problem = (message: string): CellProblem[] => [{ column: this.nameOf(first), message }];
    // What could not be read has been said already.
    if (key.some((id) => !one.values.has(id))) return [];
    if (key.some((id) => isBlank(one.values.get(id))))
      return problem(say('{label} is blank, so the row finds no record.', { label }));
    if (live.length > 1) return problem(say('Several records have this {label}. Choose another key.', { label }));
    if (live.length === 0 && found.length > 0)
      return problem(say('The record of this {label} is archived. Restore it first, or remove the row.', { label }));
    return [];
  }

  /** The record as it would be: what the file gives, over what is there or over defaults. */
  private completed(one: OpenRow, record: KnownRecord | undefined): Map<string, Value> {
    const values = new Map<string, Value>();
    const given = new Set(this.targets.map(({ field }) => field.id));
    for (const field of this.table.fields) {
      if (!typeOf(field).editable) continue;
      const own = one.values.get(field.id) ?? null;
      const otherwise = record ? (record.values[field.id] ?? null) : (this.defaults.get(field.id) ?? null);
      // A blank cell stays blank, but where something has to stand a new record takes its default.
      const takesDefault = !record && isBlank(own) && field.required;
      values.set(field.id, given.has(field.id) && !takesDefault ? own : otherwise);
    }
    return values;
  }

  private entryOf(values: ReadonlyMap<string, Value>, linked: ReadableEntry['linked']): ReadableEntry {
    const { account, now } = this.opening;
    return { form: this.form, account, now, values: Object.fromEntries(values), linked, hidden: {} };
  }

  /** What follows from other fields is worked out here as on a form; so is a calculated default that no cell gives. */
  private calculate(values: Map<string, Value>, linked: ReadableEntry['linked'], isNew: boolean): void {
    for (const id of this.form.wiring.order) {
      const field = this.form.fields.get(id);
      const begins = isNew && isBlank(values.get(id)) ? field?.beginsWith : null;
      const expression = field?.calculation ?? begins;
      if (!field || !expression) continue;
      const entry = this.entryOf(values, linked);
      const value = expression.evaluate((path) => readOperand(entry, { kind: 'form', path }), this.opening.now);
      values.set(id, giveResult(value, field.field));
    }
  }

  private problemsOf(
    values: ReadonlyMap<string, Value>,
    linked: ReadableEntry['linked'],
    items: OpenRow['items'],
  ): CellProblem[] {
    const found: CellProblem[] = [];
    for (const field of this.table.fields) {
      if (!typeOf(field).editable) continue;
      const value = values.get(field.id) ?? null;
      for (const problem of checkField(field, value, field.required))
        found.push({ column: this.nameOf(field.id), message: problem.message });
      if (!isBlank(value) && sourceOf(field)?.column !== undefined && !this.links.allows(field, values))
        found.push({
          column: this.nameOf(field.id),
          message: say('“{value}” is not in the option list under the levels beside it.', { value: String(value) }),
        });
    }
    const entry = this.entryOf(values, linked);
    found.push(...this.misfits(entry, items));
    if (found.length > 0) return found;
    const reader = (rule: PreparedForm['rules'][number]) => ({
      operand: (operand: Parameters<typeof readOperand>[1]) => readOperand(entry, operand),
      expression: () =>
        rule.expression?.evaluate((path) => readOperand(entry, { kind: 'form', path }), this.opening.now) ?? null,
    });
    return this.form.rules.flatMap((rule) => {
      if ((rule.kind === 'ask' && (this.plan.reason ?? null) !== null) || !breaks(rule, reader(rule))) return [];
      const asks = rule.kind === 'ask' ? [say('Correct the row, or give a reason for the whole import.')] : [];
      return [{ column: this.nameOf(rule.at), message: [rule.message, ...asks].join(' ') }];
    });
  }

  /** The links that are not among the choices that the table itself narrows them to. */
  private misfits(entry: ReadableEntry, items: OpenRow['items']): CellProblem[] {
    return this.table.fields.flatMap((field): CellProblem[] => {
      if (field.narrowing === null || isBlank(entry.values[field.id])) return [];
      const linked = entry.linked[field.id];
      const chosen = items[field.id] ?? (linked ? [linked.facts] : []);
      if (chosen.every((facts) => fitsNarrowing(entry, field.id, facts) !== false)) return [];
      const parents = [...new Set(pathsOf(field.narrowing, 'form').map(rootOf))].map(
        (id) => findField(this.table, id)?.label ?? id,
      );
      return [
        {
          column: this.nameOf(field.id),
          message:
            parents.length > 0
              ? say('This {label} does not apply with this {parents}.', {
                  label: field.label,
                  parents: joinedWords(parents),
                })
              : say('This {label} does not apply.', { label: field.label }),
        },
      ];
    });
  }

  private nameOf(field: FieldId): string {
    return (
      this.targets.find((one) => one.field.id === field)?.column.name ?? findField(this.table, field)?.label ?? field
    );
  }
}
