import { z } from 'zod';
import { groupSchema } from '../conditions/index.ts';
import { say } from '../languages/index.ts';
import { fieldIdSchema, idSchema, labelSchema, type TableId, tableIdSchema } from '../tables/index.ts';

/** What can be done with the records of a table. */
export const ACTIONS = ['see', 'add', 'change', 'archive', 'export', 'import'] as const;
export type Action = (typeof ACTIONS)[number];

/** Rights to a cabinet as a whole. Whoever may build or erase works on all records, and sees them. */
export const CABINET_RIGHTS = ['ledger', 'build', 'people', 'outbox', 'erase'] as const;
export type CabinetRight = (typeof CABINET_RIGHTS)[number];

/** Which records of a table: none, those that one has added oneself, those that a condition names, or all. */
const extentSchema = z.union([z.enum(['none', 'own', 'all']), groupSchema]);
export type Extent = z.infer<typeof extentSchema>;

/** A field that a role may not write, or does not see at all. */
export const FIELD_LIMITS = ['readOnly', 'hidden'] as const;
export type FieldLimit = (typeof FIELD_LIMITS)[number];

const newRecordsSchema = z.union([z.enum(['none', 'all']), groupSchema]);

/** What a role may do with the records of one table. */
export const tableRightsSchema = z.strictObject({
  see: extentSchema,
  /** A condition holds for what is added. */
  add: newRecordsSchema,
  change: extentSchema,
  archive: extentSchema,
  export: extentSchema,
  import: z.enum(['none', 'all']),
  /** Fields that are not as their table has them. */
  fields: z.record(fieldIdSchema, z.enum(FIELD_LIMITS)).default({}),
});
export type TableRights = z.infer<typeof tableRightsSchema>;

/** Whose change histories a role reads: none, those of its own records, those of the records that it sees, or those of erased records as well. */
export const HISTORIES = ['none', 'own', 'seen', 'all'] as const;

export const ROLE_LABEL_MOST = 60;

/** What a role allows, as it is edited. */
export const roleDefinitionSchema = z.strictObject({
  label: labelSchema.pipe(
    z
      .string()
      .max(ROLE_LABEL_MOST, { error: () => say('At most {count} characters fit.', { count: ROLE_LABEL_MOST }) }),
  ),
  rights: z.array(z.enum(CABINET_RIGHTS)).max(CABINET_RIGHTS.length),
  history: z.enum(HISTORIES),
  /** Whoever has the role works only after a second factor was added to the account. */
  secondFactor: z.boolean().default(false),
  /** For every table that is not named, tables that are made later included. */
  others: tableRightsSchema,
  tables: z.record(tableIdSchema, tableRightsSchema).default({}),
  /** Forms that the role does not get. */
  closedForms: z.array(idSchema).max(500).default([]),
});
export type RoleDefinition = z.infer<typeof roleDefinitionSchema>;

export interface Role extends RoleDefinition {
  readonly id: string;
  /** Raised with each change. */
  readonly revision: number;
}

/** The same extent for every action. */
export const everyAction = (extent: 'none' | 'all'): TableRights => ({
  see: extent,
  add: extent,
  change: extent,
  archive: extent,
  export: extent,
  import: extent,
  fields: {},
});

const READING: TableRights = { ...everyAction('none'), see: 'all', export: 'all' };

const role = (id: string, label: string, more: Partial<RoleDefinition>): Role => ({
  id,
  label,
  revision: 1,
  rights: [],
  history: 'all',
  secondFactor: false,
  others: everyAction('all'),
  tables: {},
  closedForms: [],
  ...more,
});

/** The roles that a cabinet begins with. */
export const FIRST_ROLES: readonly Role[] = [
  role('builder', 'Builder', { rights: [...CABINET_RIGHTS] }),
  role('clerk', 'Clerk', {}),
  role('auditor', 'Auditor', { rights: ['ledger'], others: READING }),
];

/** Somebody without any right: what is left of a role that is not there any more. */
export const NO_ROLE: Role = role('none', 'no role', { history: 'none', others: everyAction('none') });

/** The rights of a role to one table, before limits of one action on another. */
export const rightsTo = (role: RoleDefinition, table: TableId): TableRights => role.tables[table] ?? role.others;
