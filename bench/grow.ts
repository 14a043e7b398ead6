import { type NewFieldInput, newFieldSchema } from '@fiche/core/tables';
import { addAccount, addMembership } from '@fiche/server/accounts/index';
import { asActor, type Database, type Databases, type Transaction } from '@fiche/server/database/index';
import { sealLedger } from '@fiche/server/history/index';
import { addFields, createCabinet, createTable, tendIndexes } from '@fiche/server/tables/index';

/** What an office has after a year: how much of each. */
export interface Growth {
  readonly cabinets: number;
  readonly tables: number;
  readonly fields: number;
  readonly accounts: number;
  /** Records of the largest table, and of each other one. */
  readonly records: number;
  readonly others: number;
  readonly lines: number;
}

export const A_YEAR: Growth = {
  cabinets: 20,
  tables: 200,
  fields: 10_000,
  accounts: 500,
  records: 1_000_000,
  others: 500,
  lines: 10_000_000,
};

/** Berths of one pontoon, however large the office is. */
export const BERTHS_A_PONTOON = 50;
const MONTHS = 12;
const actor = (at?: string) =>
  ({ name: 'harbourmaster', through: { kind: 'seed', label: 'A year' }, ...(at ? { at } : {}) }) as const;

/** A moment so many months of 30 days ago, ISO 8601. */
export const monthsAgo = (months: number): string => new Date(Date.now() - months * 30 * 86_400_000).toISOString();

/** When an office that grows by a year has to have been made. */
export const MADE = monthsAgo(MONTHS);

/**
 * Lets an office that was made then grow by a year: cabinets with tables and fields, accounts, the records of the table of berths, and the lines of the
 * ledger, written by its own triggers and sealed month by month, so that it verifies. `say` is told how far it is.
 */
export async function growOffice(databases: Databases, to: Growth, say: (what: string) => void): Promise<void> {
  const { owner } = databases;
  await asActor(owner, actor(), (write) => addAccounts(write, to.accounts));
  say(`${to.accounts} accounts`);
  await addCabinets(databases, to);
  say(`${to.cabinets} cabinets with ${to.tables} tables and ${to.fields} fields`);
  await writeLines(databases, to, say);
  await owner.raw('VACUUM ANALYZE');
}

async function addAccounts(write: Transaction, count: number): Promise<void> {
  for (let at = await rowsOf(write, 'fiche.account'); at < count; at++) {
    const login = `clerk${String(at).padStart(3, '0')}`;
    await addAccount(write, login, `Clerk ${at}`, null);
    await addMembership(write, login, 'quay', 'clerk');
  }
}

/** How many rows a table of definitions has. */
export async function rowsOf(database: Database | Transaction, table: string): Promise<number> {
  const { rows } = await database.raw<{ rows: [{ n: number }] }>(`SELECT count(*) AS n FROM ${table}`);
  return rows[0].n;
}

/** Fields of a table, by place: numbers and texts in turn. */
const partOf = (at: number): NewFieldInput => ({
  label: `Part ${at}`,
  type: at % 3 === 0 ? 'wholeNumber' : 'text',
  settings: {},
});

/** Adds cabinets and tables until there are as many, and fills each table with a few records. */
async function addCabinets({ owner }: Databases, { cabinets, tables, fields, others }: Growth): Promise<void> {
  const known = await rowsOf(owner, 'fiche.table');
  for (let at = 1; at < cabinets; at++)
    await asActor(owner, actor(), async (write) => {
      await createCabinet(write, `yard_${at}`, `Yard ${at}`);
      await addMembership(write, 'harbourmaster', `yard_${at}`, 'builder');
    });
  for (let at = 0; at < tables - known; at++)
    await asActor(owner, actor(), async (write) => {
      const table = await createTable(write, `yard_${1 + (at % (cabinets - 1))}`, `Gear ${at}`, '');
      const parts = Array.from({ length: Math.round(fields / tables) }, (_one, place) => ({
        ...newFieldSchema.parse(partOf(place)),
        id: `part_${place}`,
      }));
      await addFields(write, table.id, parts, { held: true });
      await write.raw(
        `INSERT INTO data."${table.id}" (part_0, part_1) SELECT n, 'Gear ' || n FROM generate_series(1, ?::integer) n`,
        [others],
      );
    });
}

/**
 * Adds the berths, then changes all of them again and again, month by month, until the ledger has so many lines. Each month is
 * sealed.
 */
async function writeLines(
  { owner, app }: Databases,
  { records, lines }: Growth,
  say: (what: string) => void,
): Promise<void> {
  const passes = Math.ceil(lines / records);
  for (let pass = 0; pass < passes; pass++) {
    const at = monthsAgo(MONTHS - 1 - Math.floor((pass * MONTHS) / passes));
    await asActor(owner, actor(at), async (write) => {
      await write.raw('SET LOCAL statement_timeout = 0');
      if (pass === 0) await addBerths(write, records);
      else await write.raw("UPDATE data.quay_berths SET number = 'B-' || id || ' ' || ?::text", [String(pass)]);
    });
    await owner.raw('VACUUM ANALYZE data.quay_berths');
    if (pass === 0) await tendIndexes(owner);
    await sealLedger(app, '0 min');
    say(`${(pass + 1) * records} lines of ${records} berths`);
  }
}

async function addBerths(write: Transaction, berths: number): Promise<void> {
  const pontoons = Math.ceil(berths / BERTHS_A_PONTOON);
  await write.raw("INSERT INTO data.quay_pontoons (letter) SELECT 'P' || n FROM generate_series(1, ?::integer) n", [
    pontoons,
  ]);
  await write.raw(
    "INSERT INTO data.quay_berths (number, pontoon) SELECT 'B-' || n, 1 + n % ?::integer FROM generate_series(1, ?::integer) n",
    [pontoons, berths],
  );
}
