import { describeChanges, type FieldChange, type Through } from '@fiche/core/history';
import { labelLayoutSchema, layoutWords } from '@fiche/core/labels';
import { say, sayLater } from '@fiche/core/languages';
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
  definitionField('label', sayLater('Label')),
  definitionField('type', sayLater('Type')),
  definitionField('required', sayLater('Required')),
  definitionField('unique', sayLater('Unique')),
  definitionField('title', sayLater('Title')),
  definitionField('live_version', sayLater('Published version')),
  definitionField('role', sayLater('Role')),
  definitionField('settings', sayLater('Settings')),
  definitionField('help', sayLater('Help text')),
  definitionField('initial', sayLater('Default')),
  definitionField('calculation', sayLater('Calculation')),
  definitionField('narrowing', sayLater('Narrowed by')),
  definitionField('time_zone', sayLater('Time zone')),
  definitionField('locale', sayLater('Locale')),
  definitionField('currency', sayLater('Currency')),
  definitionField('card', sayLater('Reference card')),
  definitionField('rules', sayLater('Rules')),
  definitionField('constraints', sayLater('Rules over several fields')),
  definitionField('ripples', sayLater('Ripples')),
  definitionField('retired_at', sayLater('Archived')),
  definitionField('kind', sayLater('Kind')),
  definitionField('description', sayLater('Description')),
  definitionField('display_name', sayLater('Display name')),
  definitionField('email', sayLater('E-mail')),
  definitionField('closed_at', sayLater('Closed')),
  definitionField('rights', sayLater('Rights')),
  definitionField('expires_at', sayLater('Good until')),
  definitionField('confirmed_at', sayLater('Confirmed')),
  definitionField('tables', sayLater('Tables')),
  definitionField('revoked_at', sayLater('Revoked')),
  definitionField('ended_at', sayLater('Ended')),
  definitionField('address', sayLater('Address')),
  definitionField('definition', sayLater('Layout')),
  definitionField('account', sayLater('Account')),
];

/** Columns whose values no line tells, and what is said in their place. */
const SECRETS: Readonly<Record<string, { label: string; words: string }>> = {
  password_hash: { label: sayLater('Password'), words: sayLater('a new one') },
  token_hash: { label: sayLater('Secret'), words: sayLater('a new one') },
  secret: { label: sayLater('Secret'), words: sayLater('a new one') },
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
    (one) =>
      `${one.paused ? say('{label} (paused)', { label: one.label }) : one.label}: ${rippleWords(one, table, tables)}`,
  );
  return { ...columns, ripples: words.join(' ') };
}

const describeColumns = (before: DefinitionLine['before'], after: DefinitionLine['after']): FieldChange[] =>
  describeChanges(DEFINITION_FIELDS, before, after, new Map()).map((one) => {
    const secret = SECRETS[one.field];
    return secret
      ? { ...one, label: say(secret.label), before: '', after: one.after === '' ? '' : say(secret.words), was: null }
      : { ...one, label: say(one.label), was: null };
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
      return { what: say('Table'), title: tables.get(first)?.label ?? first };
    case 'fiche.field': {
      const table = tables.get(first);
      return {
        what: say('Field'),
        title: `${table?.label ?? first} › ${table?.fields.find((field) => field.id === second)?.label ?? second}`,
      };
    }
    case 'fiche.form':
      return { what: say('Form'), title: forms.get(first)?.draft.label ?? first };
    case 'fiche.cabinet':
      return { what: say('Cabinet'), title: cabinets.get(first)?.label ?? first };
    case 'fiche.receipt_mail':
      return { what: say('Settings'), title: say('Receipts by mail') };
    case 'fiche.office':
      return { what: say('Settings'), title: say('Office') };
    case 'fiche.import':
      return { what: say('Import'), title: row.through?.label ?? `#${first}` };
    case 'fiche.change': {
      const table = String(row.after?.table_id ?? '');
      return { what: say('Change of many'), title: tables.get(table)?.label ?? table };
    }
    case 'fiche.role':
      return { what: say('Role'), title: roles.get(first)?.get(second)?.label ?? (second === '' ? first : second) };
    case 'fiche.seen_as':
      return { what: say('Seen as a role'), title: named.get(`seen_as ${first}`) ?? `#${first}` };
    case 'fiche.password_link':
      return { what: say('Password link'), title: row.record };
    case 'fiche.second_factor':
      return { what: say('Second factor'), title: row.record };
    case 'fiche.view':
      return { what: say('View'), title: named.get(`view ${row.record}`) ?? `#${row.record}` };
    case 'fiche.label_layout':
      return { what: say('Labels'), title: named.get(`label_layout ${row.record}`) ?? `#${row.record}` };
    case 'fiche.calendar_address':
      return { what: say('Calendar address'), title: `#${row.record}` };
    case 'fiche.token':
      return { what: say('Token'), title: named.get(`token ${row.record}`) ?? `#${row.record}` };
    case 'fiche.membership':
      return { what: say('Role in the cabinet'), title: row.record.slice(0, row.record.lastIndexOf('.')) };
    default:
      return { what: say('Account'), title: row.record };
  }
}
