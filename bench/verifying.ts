import { asActor } from '@fiche/server/database/index';
import { sealLedger, verifyLedger } from '@fiche/server/history/index';
import { openBenchOffice, type Ratio } from './office.ts';

const RECORDS = 100_000;
const AIM_A_SECOND = 30_000;

/** Holding a whole ledger against its chains, its seals and the records: lines a second, against the same lines only read. */
export async function verifyingBench(): Promise<Ratio[]> {
  const office = await openBenchOffice();
  try {
    const { owner, app } = office.databases;
    const actor = { name: 'harbourmaster', through: { kind: 'seed', label: 'bench' } } as const;
    await asActor(owner, actor, async (transaction) => {
      await transaction.raw(
        `INSERT INTO data.quay_pontoons (letter) SELECT 'Pontoon ' || n FROM generate_series(1, ${RECORDS}) n`,
      );
    });
    await asActor(owner, actor, (transaction) =>
      transaction.raw(`UPDATE data.quay_pontoons SET letter = letter || ' B'`),
    );
    await sealLedger(app);
    await owner.raw('ANALYZE');
    let began = performance.now();
    const { misfits, lines } = await verifyLedger(owner);
    const seconds = (performance.now() - began) / 1_000;
    if (misfits.length > 0) throw new Error(misfits[0]?.what);
    began = performance.now();
    await owner.raw('SELECT count(to_jsonb(l)::text) FROM ledger.line l');
    const read = (performance.now() - began) / 1_000;
    return [
      {
        what: 'verifying, lines a second, 30,000 against what was reached',
        ratio: AIM_A_SECOND / (lines / seconds),
        aim: '≤ 1',
        detail: `${lines} lines in ${seconds.toFixed(1)} s: ${Math.round(lines / seconds)} a second; the database alone reads them as JSON in ${read.toFixed(1)} s`,
      },
    ];
  } finally {
    await office.close();
  }
}
