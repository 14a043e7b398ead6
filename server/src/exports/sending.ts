import { Readable } from 'node:stream';
import type { ExportSettings } from '@fiche/core/exports';
import type { Listing } from '@fiche/core/views';
import type { Call } from '../access/index.ts';
import { exportPoolAt } from '../database/index.ts';
import { attachmentNamed, FORMATS } from '../formats/index.ts';
import type { Services } from '../services.ts';
import { type Asked, exportReader, type Read, readAt, requireReadable } from '../views/index.ts';
import type { ExportQuery } from './pages.ts';
import { prepareFile, type RecordsFile, writeFile } from './recordsFile.ts';

/** Finds what a caller wants as a file, by the tables of today or of a moment. Throws 422 where it cannot be written so. */
export async function fileOf(
  services: Services,
  asked: Asked,
  { format, links, begins, ends, ...query }: Omit<ExportQuery, 'listing'> & ExportSettings,
  /** What is listed, of what is read. */
  listingOf: (read: Read) => Listing,
  title: string,
  asOf: string | undefined,
): Promise<RecordsFile> {
  const { table, tables } = await readAt(asked, services, asOf);
  const listing = listingOf({ table, tables });
  const settings = { format, links, begins, ends };
  const file = { table, tables, query: { ...query, listing }, settings, title, publicUrl: services.mail.publicUrl };
  prepareFile(file);
  return file;
}

/** A listing that a caller asks for, where it can be read. Throws 422 at the place of each fault. */
export const readable =
  (listing: Listing) =>
  (read: Read): Listing => {
    requireReadable(listing, read);
    return listing;
  };

/** Answers with a file that is written while it is read. `onPage` as `writeFile` has it. */
export async function sendFile(
  { databases }: Services,
  call: Asked & Pick<Call<unknown, unknown>, 'reply' | 'walPosition'>,
  file: RecordsFile,
  asOf: string | undefined,
  onPage?: (done: number) => Promise<void>,
): Promise<Readable> {
  const { type, ending } = FORMATS[file.settings.format];
  const name =
    asOf === undefined ? file.title : `${file.title} as of ${asOf.slice(0, 16).replace('T', ' ').replace(':', '.')}`;
  call.reply.type(type).header('content-disposition', attachmentNamed(name, ending));
  // A table of the past is not sent to standbys.
  const exports = await exportPoolAt(databases, asOf === undefined ? call.walPosition : null);
  return Readable.from(writeFile(exports, file, exportReader(call, file.tables), onPage), {
    objectMode: false,
  });
}
