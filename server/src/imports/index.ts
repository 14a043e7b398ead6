import type { Database } from '../database/index.ts';
import type { MailSettings } from '../services.ts';
import type { Worker } from '../tasks/index.ts';
import { checkImport } from './check.ts';
import { dropOldStaging } from './staged.ts';
import { forgetParts } from './store.ts';
import { writeImport } from './write.ts';

export { LinkFinder, type OpenRow } from './links.ts';
export { importRoutes } from './routes.ts';
export { receiveFile } from './store.ts';

/** Forgets files of a week ago, and what waits of them. */
export async function forgetFiles(owner: Database): Promise<void> {
  await forgetParts(owner);
  await dropOldStaging(owner);
}

/** The work of importing files, by kind. */
export const importWork = (mail: MailSettings): Readonly<Record<string, Worker>> => ({
  checkImport,
  writeImport: writeImport(mail),
});
