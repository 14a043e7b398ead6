import type { Worker } from '../tasks/index.ts';
import { backfillField } from './backfill.ts';
import { changeFieldType } from './changeType.ts';
import { hold } from './enforce.ts';
import { takeLevels } from './takeLevels.ts';

/** The work on the structure of tables, by kind. */
export const structureWork: Readonly<Record<string, Worker>> = { backfillField, changeFieldType, hold, takeLevels };
