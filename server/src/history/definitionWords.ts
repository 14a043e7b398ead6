import { describeChanges, type FieldChange, type Through } from '@fiche/core/history';
import { labelLayoutSchema, layoutWords } from '@fiche/core/labels';
import { describeRole } from '@fiche/core/rights';
import { rippleWords } from '@fiche/core/ripples';
import { type FieldDefinition, rippleSchema, type TableId, type Tables } from '@fiche/core/tables';
import { describeView } from '@fiche/core/views';
import type { Definitions } from '../definitions/index.ts';

/** A line of the ledger about a definition, an account or a role, as far as its words need it. */
interface DefinitionLine {
  readonly place: string;
  readonly record: string;
  readonly through: Through | null;
  readonly before: Readonly<Record<string, unknown>> | null;
  readonly after: Readonly<Record<string, unknown>> | null;
}

/** How the columns of a definition read in a line. */
const definitionField = (id: string, label: string): FieldDefinition => ({
  id,
  label,
  type: 'text',
  settings: {},
  required: false,
  unique: false,
  help: '',
  initial: null,
  calculation: null,
  narrowing: null,
});
/** The columns of definitions, as lines name them. */
const DEFINITION_FIELDS: readonly FieldDefinition[] = [
  definitionField('label', 'Label'),
  definitionField('type', 'Type'),
  definitionField('required', 'Required'),
  definitionField('unique', 'Unique'),
  definitionField('title', 'Title'),
  definitionField('live_version', 'Published version'),
  definitionField('role', 'Role'),
  definitionField('settings', 'Settings'),
  definitionField('help', 'Help text'),
  definitionField('initial', 'Default'),
  definitionField('calculation', 'Calculation'),
  definitionField('narrowing', 'Narrowed by'),
  definitionField('time_zone', 'Time zone'),
  definitionField('locale', 'Locale'),
  definitionField('currency', 'Currency'),
  definitionField('card', 'Reference card'),
  definitionField('rules', 'Rules'),
  definitionField('constraints', 'Rules over several fields'),
  definitionField('ripples', 'Ripples'),
  definitionField('retired_at', 'Archived'),
  definitionField('kind', 'Kind'),
  definitionField('description', 'Description'),
  definitionField('display_name', 'Display name'),
  definitionField('email', 'E-mail'),
  definitionField('closed_at', 'Closed'),
  definitionField('rights', 'Rights'),
  definitionField('expires_at', 'Good until'),
  definitionField('confirmed_at', 'Confirmed'),
  definitionField('tables', 'Tables'),
  definitionField('revoked_at', 'Revoked'),
  definitionField('ended_at', 'Ended'),
  definitionField('address', 'Address'),
  definitionField('definition', 'Layout'),
  definitionField('account', 'Account'),
];

/** Columns whose values no line tells, and what is said in their place. */
const SECRETS: Readonly<Record<string, { label: string; words: string }>> = {
  password_hash: { label: 'Password', words: 'a new one' },
  token_hash: { label: 'Secret', words: 'a new one' },
  secret: { label: 'Secret', words: 'a new one' },
};

/** What a line changed in a definition, an account or a role, in words; `titles` of records by `table:id`, `views` with their tables. Nothing of it can be put back from there. */
export const describeDefinition = (
  { place, record, before, after }: DefinitionLine,
  tables: Tables,
  titles: ReadonlyMap<string, string>,
  views: ReadonlyMap<string, TableId>,
): FieldChange[] => {
  const table = place === 'fiche.view' ? views.get(record) : undefined;
  if (table !== undefined) return describeView(before, after, table, tables, titles);
  const of = place === 'fiche.table' ? record : undefined;
  // Roles of a version before tables were named in them have their rights as one list.
  return place === 'fiche.role' && (before?.reach !== undefined || after?.reach !== undefined)
    ? describeRole(before, after, tables, titles)
    : place === 'fiche.label_layout'
      ? describeColumns(layoutInWords(before), layoutInWords(after))
      : describeColumns(ripplesInWords(before, of, tables), ripplesInWords(after, of, tables));
};

/** The columns of a line about labels with their layout in words; as they are where it reads otherwise today. */
function layoutInWords(columns: DefinitionLine['before']) {
  const layout = labelLayoutSchema.safeParse(columns?.definition);
  return columns && layout.success ? { ...columns, definition: layoutWords(layout.data) } : columns;
}

/** The columns of a table’s line with its ripples as sentences; as they are where they read otherwise today. */
function ripplesInWords(columns: DefinitionLine['before'], id: TableId | undefined, tables: Tables) {
  const table = tables.get(id ?? '');
  const ripples = rippleSchema.array().safeParse(columns?.ripples);
  if (!columns || !table || !ripples.success) return columns;
  const words = ripples.data.map(
    (one) => `${one.label}${one.paused ? ' (paused)' : ''}: ${rippleWords(one, table, tables)}`,
  );
  return { ...columns, ripples: words.join(' ') };
}

const describeColumns = (before: DefinitionLine['before'], after: DefinitionLine['after']): FieldChange[] =>
  describeChanges(DEFINITION_FIELDS, before, after, new Map()).map((one) => {
    const secret = SECRETS[one.field];
    return secret
      ? { ...one, label: secret.label, before: '', after: one.after === '' ? '' : secret.words, was: null }
      : { ...one, was: null };
  });

/** What a definition, an account or a role is, and what it is called; `named` has the names of what only has a number, such as `token 7`. */
export function definitionNamed(
  { cabinets, tables, forms, roles }: Definitions,
  row: DefinitionLine,
  named: ReadonlyMap<string, string>,
): { what: string; title: string } {
  const [first = '', second = ''] = row.record.split('.');
  switch (row.place) {
    case 'fiche.table':
      return { what: 'Table', title: tables.get(first)?.label ?? first };
    case 'fiche.field': {
      const table = tables.get(first);
      return {
        what: 'Field',
        title: `${table?.label ?? first} › ${table?.fields.find((field) => field.id === second)?.label ?? second}`,
      };
    }
    case 'fiche.form':
      return { what: 'Form', title: forms.get(first)?.draft.label ?? first };
    case 'fiche.cabinet':
      return { what: 'Cabinet', title: cabinets.get(first)?.label ?? first };
    case 'fiche.receipt_mail':
      return { what: 'Settings', title: 'Receipts by mail' };
    case 'fiche.office':
      return { what: 'Settings', title: 'Office' };
    case 'fiche.import':
      return { what: 'Import', title: row.through?.label ?? `#${first}` };
    case 'fiche.change': {
      const table = String(row.after?.table_id ?? '');
      return { what: 'Change of many', title: tables.get(table)?.label ?? table };
    }
    case 'fiche.role':
      return { what: 'Role', title: roles.get(first)?.get(second)?.label ?? (second === '' ? first : second) };
    case 'fiche.seen_as':
      return { what: 'Seen as a role', title: named.get(`seen_as ${first}`) ?? `#${first}` };
    case 'fiche.password_link':
      return { what: 'Password link', title: row.record };
    case 'fiche.second_factor':
      return { what: 'Second factor', title: row.record };
    case 'fiche.view':
      return { what: 'View', title: named.get(`view ${row.record}`) ?? `#${row.record}` };
    case 'fiche.label_layout':
      return { what: 'Labels', title: named.get(`label_layout ${row.record}`) ?? `#${row.record}` };
    case 'fiche.calendar_address':
      return { what: 'Calendar address', title: `#${row.record}` };
    case 'fiche.token':
      return { what: 'Token', title: named.get(`token ${row.record}`) ?? `#${row.record}` };
    case 'fiche.membership':
      return { what: 'Role in the cabinet', title: row.record.slice(0, row.record.lastIndexOf('.')) };
    default:
      return { what: 'Account', title: row.record };
  }
}
