import { say } from '@fiche/core/languages';
import { inThread } from '../threads/index.ts';
import type { PrintedDocument, PrintJob } from './pageStyle.ts';

/** Makes a document into a PDF, in a thread of its own. Throws 422 for one that takes too long. */
export async function makePdf(document: PrintedDocument): Promise<Buffer> {
  const parts: Uint8Array[] = [];
  for await (const part of inThread<Uint8Array>({
    module: new URL('./worker.ts', import.meta.url),
    job: { ...document, pageWords: say('Page {page} of {pages}') } satisfies PrintJob,
    tooMuch: say('This takes too long to print. Print fewer records, or export them as a workbook.'),
  }))
    parts.push(part);
  return Buffer.concat(parts);
}
