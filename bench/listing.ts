import { type Listing, plainListing } from '@fiche/core/views';
import { loadDefinitions } from '@fiche/server/definitions/index';
import { findByWords } from '@fiche/server/records/index';
import { tendIndexes } from '@fiche/server/tables/index';
import { listRows } from '@fiche/server/views/index';
import { comparing, withinTime } from './compared.ts';
import { fillBerths, openBenchOffice, type Ratio } from './office.ts';

const RECORDS = 1_000_000;
const PONTOONS = 20_000;
const compared = comparing('≤ 1.2');
const PAGE = 100;

/** What is typed: what many records have, what one has, what none has. */
const WORDS = ['B-7', '999999', '123456', 'nowhere'];

/** A search has to answer within a keystroke’s time. */
const FIND_MS = 50;

const COLUMNS = 'id, version, created_at, created_by, changed_at, changed_by, archived_at, number, pontoon';
const TITLE = '(SELECT p.letter FROM data.quay_pontoons p WHERE p.id = b.pontoon) AS title';
const NATURAL = 'number COLLATE fiche.natural';

/** A list of a million records: its first page, page 10,000, and wherever it is dragged to; against the same SQL by hand. */
export async function listingBench(): Promise<Ratio[]> {
  const office = await openBenchOffice();
  try {
    const { app, owner } = office.databases;
    await fillBerths(office.databases, PONTOONS, RECORDS);
    await tendIndexes(owner);
    await owner.raw('VACUUM ANALYZE data.quay_berths');
    const { tables } = await loadDefinitions(app);
    const table = tables.get('quay_berths');
    if (!table) throw new Error('There are no berths');
    const reader = { asking: { account: 'harbourmaster', now: '2026-08-17T09:00' } };
    const page = (listing: Partial<Listing>, more: { readonly at?: number; readonly after?: string } = {}) =>
      listRows(
        app,
        tables,
        table,
        { search: '', archived: 'no', listing: { ...plainListing(table), ...listing }, limit: PAGE, ...more },
        reader,
      );
    const byNumber: Listing['sort'] = [{ path: 'number', direction: 'up' }];
    const sqlFrom = (order: string, offset: number) =>
      app.raw(
        `SELECT ${COLUMNS}, ${TITLE} FROM data.quay_berths b WHERE archived_at IS NULL ORDER BY ${order} OFFSET ${offset} LIMIT ${PAGE}`,
      );
    const count = () => app.raw('SELECT count(*) FROM data.quay_berths WHERE archived_at IS NULL');
    // Where page 10,000 begins: after the last record of the page before it.
    const before = await page({ sort: byNumber }, { at: RECORDS - 2 * PAGE });
    const after = before.after ?? '';
    const second = (await page({ sort: byNumber })).after ?? '';
    return [
      await compared(
        'first page of 1,000,000 records, with their count',
        () => page({}),
        async () => {
          await count();
          await sqlFrom('id DESC', 0);
        },
      ),
      await compared(
        'sorted by an indexed column: page 10,000 against page 2',
        () => page({ sort: byNumber }, { after }),
        () => page({ sort: byNumber }, { after: second }),
        60,
      ),
      await compared(
        'dragged to the middle, sorted by an indexed column',
        () => page({ sort: byNumber }, { at: RECORDS / 2 }),
        () => sqlFrom(`${NATURAL}, id`, RECORDS / 2),
      ),
      await compared(
        'dragged to the middle, the newest first',
        () => page({}, { at: RECORDS / 2 }),
        () => sqlFrom('id DESC', RECORDS / 2),
      ),
      await withinTime('found by words in every table, 1,000,000 records in the largest', FIND_MS, (round) =>
        findByWords(app, tables, 'quay', WORDS[round % WORDS.length] ?? ''),
      ),
      await compared(
        'sorted by the title of a linked record',
        () => page({ sort: [{ path: 'pontoon', direction: 'up' }] }, { at: 1 }),
        () =>
          app.raw(
            `SELECT ${COLUMNS.split(', ')
              .map((one) => `b.${one}`)
              .join(
                ', ',
              )}, p.letter AS title FROM data.quay_berths b LEFT JOIN data.quay_pontoons p ON p.id = b.pontoon WHERE b.archived_at IS NULL ORDER BY p.letter COLLATE fiche.natural, b.id OFFSET 1 LIMIT ${PAGE}`,
          ),
        3,
      ),
    ];
  } finally {
    await office.close();
  }
}
