import type { Worker } from '../tasks/index.ts';
import { checkImport } from './check.ts';
import { writeImport } from './write.ts';

export { importRoutes } from './routes.ts';
export { forgetFiles, receiveFile } from './store.ts';

/** The work of bringing files in, by kind. */
export const importWork: Readonly<Record<string, Worker>> = { checkImport, writeImport };
