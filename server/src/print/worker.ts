import { parentPort, workerData } from 'node:worker_threads';
import pdfmake from 'pdfmake';
import type { ThreadAnswer } from '../threads/index.ts';
import { FONTS, textOf } from './fonts.ts';
import { FADED, MARGIN, type PrintJob } from './pageStyle.ts';
import { LAYOUTS } from './ruledTable.ts';

// The thread that makes a PDF: a long list takes seconds, and must not hold up the thread that answers requests.

const send = (answer: ThreadAnswer<Uint8Array>): void => parentPort?.postMessage(answer);

async function work({ document, foot }: PrintJob): Promise<void> {
  pdfmake.setFonts(FONTS);
  // Nothing of a document is fetched from anywhere, and no file is read but the fonts.
  const fonts = new Set(Object.values(FONTS).flatMap((one) => Object.values(one)));
  pdfmake.setUrlAccessPolicy(() => false);
  pdfmake.setLocalAccessPolicy((path: string) => fonts.has(path));
  pdfmake.addTableLayouts(LAYOUTS);
  const footer = (page: number, pages: number) => ({
    columns: [
      textOf(foot ?? '', { color: FADED, fontSize: 8 }),
      textOf(`Page ${page} of ${pages}`, { color: FADED, fontSize: 8, alignment: 'right' }),
    ],
    margin: [MARGIN, 8, MARGIN, 0] as [number, number, number, number],
  });
  const made = pdfmake.createPdf({ ...document, ...(foot === null ? {} : { footer }) });
  send({ kind: 'part', part: new Uint8Array(await made.getBuffer()) });
  send({ kind: 'end' });
}

await work(workerData as PrintJob);
