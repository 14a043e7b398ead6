import type { Condition, Group } from '../conditions/index.ts';
import { fieldOfDestination } from '../destinations/index.ts';
import type { Expression } from '../expressions/index.ts';
import type { Fill } from '../fills/index.ts';
import type { Narrowing, Source } from '../narrowing/index.ts';
import type { Rule } from '../rules/index.ts';
import type { FieldDefinition, FieldId, Initial, TableDefinition, TableId, Tables } from '../tables/index.ts';
import type { Wiring } from '../wiring/index.ts';
import type { DefinedForm, Subform } from './form.ts';

/** A rule with its expression read, and the paths of the form that decide it. */
export interface PreparedRule extends Rule {
  readonly reads: readonly string[];
  /** In a line: the paths of the enclosing record that decide it, too. */
  readonly enclosing: readonly string[];
  readonly expression: Expression | null;
  /** True for a rule of the table, which guards every path into it. */
  readonly ofTable: boolean;
}

/** Where a line’s form stands: the table of the record that encloses it, and the line’s own link to it. */
export interface Enclosure {
  readonly table: TableDefinition;
  readonly link: FieldId;
  /** The destination of the enclosing form whose lines they are. */
  readonly part?: string | undefined;
}

/** The field of an enclosing form that a line means by a column of the record that its link points at. */
export const inEnclosing = ({ part }: Enclosure, path: string): string =>
  part === undefined ? path : fieldOfDestination(part, path);

/** A field of a form with everything settled that the table, the option list and the form say about it. */
export interface PreparedField {
  readonly id: FieldId;
  /** False for a field that the form only carries, because a rule or calculation of its table needs it. */
  readonly placed: boolean;
  readonly label: string;
  readonly help: string;
  readonly field: FieldDefinition;
  readonly required: boolean;
  readonly requiredWhen: Condition | null;
  /** Its own condition and its section’s, together. */
  readonly shownWhen: Condition | null;
  readonly keepHidden: boolean;
  readonly readOnly: boolean;
  readonly initial: Initial | null;
  /** A default that is calculated; it follows what it reads until somebody types. */
  readonly beginsWith: Expression | null;
  readonly calculation: Expression | null;
  readonly source: Source | undefined;
  readonly narrowing: Narrowing;
  readonly fill: Fill | null;
  /** Of its choices only those that this leaves: the filter of the view that feeds it, which only the server knows. */
  readonly within?: Group;
  /** Columns of the linked record that this form reads: for narrowing, fills, rules and reference cards. */
  readonly factPaths: readonly string[];
}

/** What limits whoever fills a form at a field of a table: read-only, or hidden, which it is filled around. */
export type FieldLimits = (table: TableId, field: FieldId) => 'readOnly' | 'hidden' | undefined;

/** What reads a field, and has to be computed anew when it changes. */
export interface Readers {
  /** Fields whose visibility, requiredness or calculation reads it. */
  readonly fields: readonly string[];
  /** Places of rules in the form’s list. */
  readonly rules: readonly number[];
}

/** A subform with everything settled: its lines are entries of a form of their own. */
export interface PreparedSubform {
  readonly id: string;
  readonly label: string;
  readonly definition: Subform;
  readonly form: PreparedForm;
  readonly shownWhen: Condition | null;
  /** Of its lines only those that this leaves: the filter of the view that feeds it, which only the server knows. */
  readonly within?: Group;
  /** Fields of the enclosing form that its lines read. */
  readonly enclosing: ReadonlySet<FieldId>;
  /** False where the order of the lines is not kept, as that of the rows of a whole form. */
  readonly ordered: boolean;
  /** Columns of its lines that the enclosing form reads. */
  readonly columns: readonly string[];
}

/** A form ready to run: what both the browser and the server work with. */
export interface PreparedForm {
  readonly definition: DefinedForm;
  readonly table: TableDefinition;
  readonly tables: Tables;
  /** Set for a form with destinations, whose `table` has their fields as well: the tables as they are stored. */
  readonly stored?: Tables;
  readonly fields: ReadonlyMap<FieldId, PreparedField>;
  readonly subforms: ReadonlyMap<string, PreparedSubform>;
  /** In the form of a line: what encloses it. */
  readonly enclosure: Enclosure | undefined;
  readonly rules: readonly PreparedRule[];
  readonly readers: ReadonlyMap<string, Readers>;
  readonly wiring: Wiring;
}
