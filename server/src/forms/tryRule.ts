import { readOperand } from '@fiche/core/entry';
import { prepareRule } from '@fiche/core/forms';
import { say } from '@fiche/core/languages';
import { breaks, type Rule } from '@fiche/core/rules';
import type { TableId, Tables } from '@fiche/core/tables';
import type { Database } from '../database/index.ts';
import { notFound } from '../http/index.ts';
import { type BrokenRecords, brokenRecords } from '../records/index.ts';

/** How many records in use break a rule, and the first of them, decided by the rule’s own code as a save would. */
export function tryRule(
  database: Database,
  tables: Tables,
  tableId: TableId,
  sent: Rule,
  account: string | null,
): Promise<BrokenRecords> {
  const table = tables.get(tableId);
  if (!table) throw notFound(say('This table'));
  const rule = prepareRule(sent, table, tables, false);
  const wrong = (entry: Parameters<typeof readOperand>[0]): string | undefined => {
    const reader = {
      operand: (operand: Parameters<typeof readOperand>[1]) => readOperand(entry, operand),
      expression: () =>
        rule.expression?.evaluate((path) => readOperand(entry, { kind: 'form', path }), entry.now) ?? null,
    };
    return breaks(rule, reader) ? rule.message : undefined;
  };
  return brokenRecords(database, tables, table, { reads: rule.reads, wrong }, account);
}
