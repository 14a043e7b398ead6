// Opens what Fiche exports of the sample office in other people's programs, and compares it with the records: workbook and CSV in
// a spreadsheet program (soffice), PDFs in Poppler, calendars in ical.js. Prints one line for each file; ends with 1 where something differs.
import { spawnSync } from 'node:child_process';
import { existsSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { startCluster } from './cluster.mjs';
import { giveUp, installed, installPackages } from './install.mjs';
import { serveSample } from './serve.mjs';

installPackages();
const program = (name, debianPackage) =>
  installed(
    () => [`/usr/bin/${name}`].find((path) => existsSync(path)),
    debianPackage,
    `${name} is missing: install it (Debian: apt-get install ${debianPackage}), then try again.`,
  );
const soffice = ['/usr/bin/soffice', '/usr/local/bin/soffice'].find((path) => existsSync(path));
if (!soffice)
  giveUp('soffice is missing: install the spreadsheet program that has it from Debian’s packages, then try again.');
const pdftotext = program('pdftotext', 'poppler-utils');
const { parse } = await import('csv-parse/sync');
const { default: ICAL } = await import('ical.js');

const run = (command, ...args) => {
  const done = spawnSync(command, args, { encoding: 'utf8', stdio: ['ignore', 'pipe', 'pipe'], maxBuffer: 1 << 28 });
  if (done.status !== 0) throw new Error(`${command} ${args.join(' ')}: ${done.stderr}`);
  return done.stdout;
};

let failures = 0;
/** Says how many of `wanted` are in `found`, as many times as they are there. */
const compare = (what, wanted, found) => {
  const differ = wanted.flatMap((one, at) => (one === found[at] ? [] : [[at, one, found[at]]]));
  if (wanted.length !== found.length || differ.length > 0) failures++;
  const first = differ[0]
    ? `; first at ${differ[0][0]}: ${JSON.stringify(differ[0][1])} is ${JSON.stringify(differ[0][2])}`
    : '';
  process.stdout.write(`${what}: ${wanted.length - differ.length} of ${wanted.length} values equal${first}\n`);
};

/** Signs in to the sample as an account; gives what reads a file of the interface. */
async function signIn(url, login) {
  const { samples } = await (await fetch(`${url}/api/session`)).json();
  const { password } = samples.find((one) => one.login === login);
  const session = await fetch(`${url}/api/session`, {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify({ login, password }),
  });
  const cookie = session.headers
    .getSetCookie()
    .map((one) => one.split(';')[0])
    .join('; ');
  const { csrf } = await session.json();
  return {
    async file(path) {
      const answer = await fetch(`${url}${path}`, { headers: { cookie } });
      if (!answer.ok) throw new Error(`${path}: ${answer.status} ${await answer.text()}`);
      return Buffer.from(await answer.arrayBuffer());
    },
    async order(table, body) {
      const headers = { cookie, 'x-fiche-csrf': csrf, 'content-type': 'application/json' };
      const answer = await fetch(`${url}/api/tables/${table}/exports`, {
        method: 'POST',
        headers,
        body: JSON.stringify(body),
      });
      const { id } = await answer.json();
      return this.file(`/api/tables/${table}/exports/${id}/file`);
    },
  };
}

/** Cells as one list of texts, yes and no as spreadsheets show them, numbers without trailing zeros. */
const plain = (rows) =>
  rows.flat().map((cell) => {
    const text = cell.replace(/^'(?=[=+\-@'])/, '');
    if (text === 'TRUE' || text === 'FALSE') return text === 'TRUE' ? 'yes' : 'no';
    return /^-?\d+\.\d+$/.test(text) ? String(Number(text)) : text;
  });

const folder = mkdtempSync(join(tmpdir(), 'fiche-interop-'));
const cluster = await startCluster({ throwaway: true });
let office;
try {
  office = await serveSample(cluster, 'office');
  const { url } = office;
  const files = await signIn(url, 'harbourmaster');
  /** Converted by soffice: field 44 (comma), text 34 (quotation mark), character set 76 (UTF-8). */
  const toCsv = (name, ...how) => {
    const profile = `-env:UserInstallation=file://${folder}/profile`;
    const into = ['--convert-to', 'csv:Text - txt - csv (StarCalc):44,34,76', '--outdir', `${folder}/out`];
    run(soffice, '--headless', profile, ...how, ...into, join(folder, name));
    return parse(readFileSync(join(folder, 'out', name.replace(/\.\w+$/, '.csv'))), { bom: true });
  };
  for (const table of ['gannet_stays', 'gannet_owners', 'gannet_fault_reports']) {
    const wanted = plain(parse(await files.file(`/api/tables/${table}/export?format=csv`), { bom: true }));
    writeFileSync(join(folder, `${table}.xlsx`), await files.file(`/api/tables/${table}/export?format=xlsx`));
    compare(`${table}.xlsx in soffice`, wanted, plain(toCsv(`${table}.xlsx`)));
  }
  writeFileSync(join(folder, 'csv.csv'), await files.file('/api/tables/gannet_owners/export?format=csv'));
  const owners = parse(readFileSync(join(folder, 'csv.csv')), { bom: true });
  compare('gannet_owners.csv in soffice', plain(owners), plain(toCsv('csv.csv', '--infilter=CSV:44,34,76')));

  const words = (name) => run(pdftotext, '-layout', join(folder, name), '-').replaceAll(/\s+/g, ' ');
  const holds = (what, texts, all) =>
    compare(
      what,
      texts,
      texts.map((text) => (all.includes(text) ? text : undefined)),
    );
  const listing = {
    columns: ['number', 'vessel', 'arrival', 'dues'].map((path) => ({
      path,
      ...(path === 'dues' ? { summary: 'sum' } : {}),
    })),
    group: 'harbour',
  };
  const stays = JSON.parse(await files.file('/api/tables/gannet_stays/export?format=json'));
  writeFileSync(
    join(folder, 'list.pdf'),
    await files.order('gannet_stays', { listing, print: { kind: 'list', paper: 'letter' } }),
  );
  holds(
    'list.pdf in Poppler',
    stays.map((stay) => stay.number),
    words('list.pdf'),
  );
  writeFileSync(
    join(folder, 'card.pdf'),
    await files.file('/api/tables/gannet_stays/records/1/print?form=gannet_check_in'),
  );
  holds('card.pdf in Poppler', [stays[0].number, stays[0].vessel, 'Services used'], words('card.pdf'));
  const layouts = JSON.parse(await files.file('/api/tables/gannet_owners/label-layouts')).layouts;
  const named = { columns: [{ path: 'name' }] };
  writeFileSync(
    join(folder, 'labels.pdf'),
    await files.order('gannet_owners', { listing: named, print: { kind: 'labels', layout: layouts[0].layout } }),
  );
  holds(
    'labels.pdf in Poppler',
    owners.slice(1).map(([name]) => name),
    words('labels.pdf'),
  );

  const calendar = await files.file('/api/tables/gannet_stays/export?format=ics&begins=arrival&ends=departure');
  const events = new ICAL.Component(ICAL.parse(calendar.toString()))
    .getAllSubcomponents('vevent')
    .map((one) => new ICAL.Event(one));
  const dated = stays.filter((stay) => stay.arrival !== null);
  compare(
    'calendar in ical.js',
    dated.map((stay) => stay.number),
    events.map((event) => event.summary),
  );
  compare(
    'its beginnings',
    dated.map((stay) => `${stay.arrival}:00Z`),
    events.map((event) => event.startDate.toString()),
  );
} finally {
  await office?.stop();
  cluster.stop();
  rmSync(folder, { recursive: true, force: true });
}
process.stdout.write(failures === 0 ? 'Everything is equal.\n' : `${failures} files differ.\n`);
process.exitCode = failures === 0 ? 0 : 1;
