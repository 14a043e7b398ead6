import type { TableDefinition } from '@fiche/core/tables';
import type { Transaction } from '../database/index.ts';
import { constraintProblem } from './constraints.ts';

/**
 * Runs a part of a transaction so that what the database refuses takes back that part only. Gives what stands against it, in words:
 * what `work` says, or what a constraint of the table refused; null where nothing does.
 */
export async function inSavepoint(
  write: Transaction,
  table: TableDefinition,
  work: () => Promise<string | null>,
): Promise<string | null> {
  await write.raw('SAVEPOINT one_part');
  try {
    const problem = await work();
    await write.raw('RELEASE SAVEPOINT one_part');
    return problem;
  } catch (error) {
    await write.raw('ROLLBACK TO SAVEPOINT one_part');
    const refused = constraintProblem(table, error);
    if (!refused) throw error;
    return refused.message;
  }
}
