import pdfmake from 'pdfmake';
import { answerJobs } from '../jobs/index.ts';
import { FONTS, textOf } from './fonts.ts';
import { FADED, MARGIN, type PrintJob } from './pageStyle.ts';
import { LAYOUTS } from './ruledTable.ts';

// The thread that makes a PDF: a long list takes seconds, and must not hold up the thread that answers requests.

answerJobs<PrintJob, Uint8Array>(async ({ document, foot, pageWords }, pass) => {
  pdfmake.setFonts(FONTS);
  // Nothing of a document is fetched from anywhere, and no file is read but the fonts.
  const fonts = new Set(Object.values(FONTS).flatMap((one) => Object.values(one)));
  pdfmake.setUrlAccessPolicy(() => false);
  pdfmake.setLocalAccessPolicy((path: string) => fonts.has(path));
  pdfmake.addTableLayouts(LAYOUTS);
  const footer = (page: number, pages: number) => ({
    columns: [
      textOf(foot ?? '', { color: FADED, fontSize: 8 }),
      textOf(pageWords.replace('{page}', String(page)).replace('{pages}', String(pages)), {
        color: FADED,
        fontSize: 8,
        alignment: 'right',
      }),
    ],
    margin: [MARGIN, 8, MARGIN, 0] as [number, number, number, number],
  });
  const made = pdfmake.createPdf({ ...document, ...(foot === null ? {} : { footer }) });
  pass(new Uint8Array(await made.getBuffer()));
});
