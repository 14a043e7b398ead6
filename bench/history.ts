import { loadDefinitions } from '@fiche/server/definitions/index';
import { recordLines } from '@fiche/server/history/index';
import { openBenchOffice, p95, type Ratio } from './office.ts';

const SIZES = [10_000, 10_000_000] as const;
const ROUNDS = 300;
const LINES_A_RECORD = 5;

/** The history of one record in a ledger of ten million lines, against one of ten thousand: lines spread over the months. */
export async function historyBench(): Promise<Ratio[]> {
  const times: number[] = [];
  for (const size of SIZES) {
    const office = await openBenchOffice();
    const { owner, app } = office.databases;
    try {
      const records = size / LINES_A_RECORD;
      // As many lines as an office writes in years; their hashes do not matter here.
      await owner.raw(
        `INSERT INTO ledger.line (at, account, through, transaction, place, record, version, kind, before, after, hash)
         SELECT now() - (n % 720) * interval '1 day', 'quayclerk', '{"kind":"form","label":"Check-in","version":1}', 1 + n / 10, 'data.quay_berths', (1 + n % ${records})::text, 1 + n / ${records}, 'change', '{"number":"A-1"}', '{"number":"A-2"}', '\\x00'
         FROM generate_series(0, ${size - 1}) n`,
      );
      await owner.raw('ANALYZE ledger.line');
      const definitions = await loadDefinitions(app);
      const taken: number[] = [];
      for (let round = 0; round < ROUNDS; round++) {
        const record = 1 + ((round * 7_919) % records);
        const begun = performance.now();
        const { lines } = await recordLines(app, definitions, 'quay_berths', record);
        taken.push(performance.now() - begun);
        if (lines.length !== LINES_A_RECORD) throw new Error(`${lines.length} lines`);
      }
      times.push(p95(taken.slice(50)));
    } finally {
      await office.close();
    }
  }
  const [small = Number.NaN, large = Number.NaN] = times;
  return [
    {
      what: 'history of one record, 10,000,000 lines against 10,000',
      ratio: large / small,
      aim: '≤ 1.3',
      detail: `p95 ${large.toFixed(2)} against ${small.toFixed(2)} ms`,
    },
  ];
}
