import { writeFile } from 'node:fs/promises';
import writeXlsx from 'write-excel-file/node';

const folder = new URL('./files/', import.meta.url);

/** Windows-1252 differs from Latin-1 in none of the letters used here. */
const windows1252 = (text: string): Uint8Array => Uint8Array.from([...text].map((letter) => letter.charCodeAt(0)));

const STAYS = `Winter berths 2026;;;;
Vessel;Owner;Berthed on;Length (m);Paid
Möwe;Jörn Café & Söhne;17.11.2026;9,80;yes
"Lady ""Jane""";Ailsa Marwick;3.12.2026;11,20;no
Tystie;Bride Colsay;5.12.26;6,00;yes
Søstrene;"Håkon; Ås";24.12.2026;12,45;x
Kittiwake Rose;Tam Orsay;31.02.2026;10,10;yes
Fulmar;Rhona Vane;9.1.2027;eight;no
`;

const date = (value: Date) => ({ value, format: 'dd/mm/yyyy' });
const cells = (rows: unknown[][]) =>
  rows.map((row) => row.map((value) => (value === null ? null : value instanceof Date ? date(value) : { value })));
const BERTHS = [
  ['Berths to be added, spring 2027', null, null, null, null],
  [null, null, null, null, null],
  ['Number', 'Harbour', 'Pontoon', 'Longest vessel', 'Surveyed'],
  ['A-91', 'Tern Cove', 'A', 12.5, new Date('2026-10-05T00:00:00Z')],
  ['A-92', 'Tern Cove', 'A', 12.5, new Date('2026-10-05T00:00:00Z')],
  ['B-91', 'Gannet Quay', 'B', 9, new Date('2026-10-06T00:00:00Z')],
  ['C-91', 'Skerry Haven', 'C', 15, null],
  ['Z-1', 'Skerry Haven', 'Z', 15, null],
];

const LINES = [
  { registration: 'GS-9001', name: 'Petrel', type: 'Ketch', length: 10.4, tags: ['wooden', 'guest'] },
  { registration: 'GS-9002', name: 'Storm petrel', type: 'Tender', length: 5.1 },
  { registration: 'gs 9003', name: 'Skua', type: 'Cutter', length: '11.9', insured_until: '2027-04-30' },
  { registration: 'GS-9001', name: 'Petrel again', type: 'Ketch', length: 10.4 },
  { registration: 'GS-9004', name: 'Dunlin', type: 'Submarine', length: 40 },
];

// Writes the three messy files that a new user can try an import with.
await writeFile(new URL('winter-berths.csv', folder), windows1252(STAYS.replaceAll('\n', '\r\n')));
await writeXlsx([
  { sheet: 'Read me', data: cells([['The berths are on the second sheet.']]) },
  { sheet: 'Berths', data: cells(BERTHS) },
] as never).toFile(new URL('new-berths.xlsx', folder).pathname);
await writeFile(new URL('vessels.jsonl', folder), LINES.map((line) => `${JSON.stringify(line)}\n`).join(''));
