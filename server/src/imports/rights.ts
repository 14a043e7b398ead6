import type { ImportPlan } from '@fiche/core/imports';
import { type Caller, needRight, requireWriteRight } from '../access/index.ts';
import { type Definitions, requireInUse } from '../definitions/index.ts';

/** Adding needs the right to add, changing the right to change, a new table the right to build; all is in use. */
export function requireImportRights(caller: Caller, cabinet: string, plan: ImportPlan, definitions: Definitions): void {
  const into = plan.into.kind === 'table' ? definitions.tables.get(plan.into.table) : undefined;
  if (into) requireWriteRight(caller, into, 'add');
  requireInUse(definitions, cabinet, into ? [into] : []);
  if (plan.into.kind === 'new') needRight(caller, cabinet, 'build');
  if (plan.key.length > 0 && plan.found === 'change') needRight(caller, cabinet, 'change');
  needRight(caller, cabinet, 'add');
}
