import { Readable } from 'node:stream';
import type { ExportSettings } from '@fiche/core/exports';
import type { Call } from '../access/index.ts';
import { attachmentNamed, FORMATS } from '../formats/index.ts';
import type { Services } from '../services.ts';
import { type Asked, exportReader, tableOf, tablesAt } from '../views/index.ts';
import type { ExportQuery } from './pages.ts';
import { prepareFile, type RecordsFile, writeFile } from './recordsFile.ts';

/** Finds what a caller wants as a file, by the tables of today or of a moment. Throws 422 where it cannot be written so. */
export async function fileOf(
  services: Services,
  asked: Asked,
  { format, links, begins, ends, ...query }: ExportQuery & ExportSettings,
  title: string,
  asOf: string | undefined,
): Promise<RecordsFile> {
  const tables = await tablesAt(asked, services, asOf);
  const settings = { format, links, begins, ends };
  const file = { table: tableOf(asked), tables, query, settings, title, publicUrl: services.mail.publicUrl };
  prepareFile(file);
  return file;
}

/** Answers with a file that is written while it is read. `onPage` as `writeFile` has it. */
export function sendFile(
  { databases }: Services,
  call: Asked & Pick<Call<unknown, unknown>, 'reply'>,
  file: RecordsFile,
  asOf: string | undefined,
  onPage?: (done: number) => Promise<void>,
): Readable {
  const { type, ending } = FORMATS[file.settings.format];
  const name =
    asOf === undefined ? file.title : `${file.title} as of ${asOf.slice(0, 16).replace('T', ' ').replace(':', '.')}`;
  call.reply.type(type).header('content-disposition', attachmentNamed(name, ending));
  return Readable.from(writeFile(databases.exports, file, exportReader(call, file.tables), onPage), {
    objectMode: false,
  });
}
