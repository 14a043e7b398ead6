#!/usr/bin/env node
// Verifies an exported ledger of Fiche by itself: no server, no database, no packages. The format: docs/LEDGER.md.
//
//   node verify.mjs ledger.jsonl [receipt.json …]
//
// Ends with 0 when everything fits, 1 when something does not, 2 when it could not read what it was given.
import { createHash, createPublicKey, verify } from 'node:crypto';
import { createReadStream, readFileSync } from 'node:fs';
import { createInterface } from 'node:readline';

const SEPARATOR = '\u001f';
const sha256 = (text) => createHash('sha256').update(text).digest('hex');
const joined = (parts) => parts.map((part) => part ?? '').join(SEPARATOR);
const HASH = /^[0-9a-f]{64}$/;

class Misfit extends Error {}
class Unreadable extends Error {}

const digestOf = (line) => sha256(joined([line.salt, line.before, line.after, line.reasons]));

/** The hash that a line ought to have: of its parts and the digest of its values; a line of an older version, of the values. */
const hashOf = (line) =>
  sha256(
    joined([
      line.micros,
      line.account,
      line.through,
      line.transaction,
      line.place,
      line.previous,
      line.record,
      line.version,
      line.kind,
      ...(line.digest === null ? [line.before, line.after] : [line.digest]),
    ]),
  );

/** What an erasure writes down of a line of an older version whose values it removes. */
const vouchingOf = (line) =>
  sha256(
    joined([
      line.micros,
      line.account,
      line.through,
      line.transaction,
      line.previous,
      line.version,
      line.kind,
      line.hash,
    ]),
  );

const sealHash = (seal) =>
  sha256(
    joined([
      seal.previous,
      seal.number,
      seal.micros,
      seal.fromTransaction,
      seal.toTransaction,
      seal.lines,
      seal.root,
      ...(seal.oldest === null ? [] : [seal.oldest]),
    ]),
  );

const isErased = (line) => (line.digest === null ? line.before === null && line.after === null : line.salt === null);

/** Holds a line against its own parts. Gives what vouches for it where its values were removed; undefined where they are there. */
function checkContent(line) {
  if ([line.account, line.place, line.record].some((part) => part.includes(SEPARATOR)))
    throw new Misfit('it holds a character that no line is written with');
  if (isErased(line)) {
    if (line.before !== null || line.after !== null || line.reasons !== null)
      throw new Misfit('its values are there without what they were sealed with');
    if (line.digest === null) return vouchingOf(line);
  } else if (line.digest !== null && digestOf(line) !== line.digest)
    throw new Misfit('what it says is not what was written: its values do not fit their digest');
  if (hashOf(line) !== line.hash) throw new Misfit('what it says is not what was written: its hash does not fit');
  return isErased(line) ? null : undefined;
}

/** The ledger as it is read: the lines of each record chained, all lines added up by the seals. */
class Ledger {
  counts = { lines: 0, told: 0, seals: 0, open: 0 };
  records = new Map();
  sealHashes = new Map();
  root = createHash('sha256');
  last = undefined;
  lastLine = undefined;

  addHash({ id, transaction, hash }) {
    if (!HASH.test(hash)) throw new Misfit('it has no hash');
    const before = this.lastLine;
    const [now, then] = [BigInt(transaction), BigInt(before?.transaction ?? 0)];
    if (before && (now < then || (now === then && id <= before.id)))
      throw new Misfit('it does not stand in the order of transactions');
    if (now < BigInt(this.last?.toTransaction ?? 0)) throw new Misfit('it stands after the seal that covers it');
    this.lastLine = { id, transaction };
    this.root.update(Buffer.from(hash, 'hex'));
    this.counts.lines += 1;
    this.counts.open += 1;
  }

  addLine(line) {
    this.addHash(line);
    this.counts.told += 1;
    const vouching = checkContent(line);
    const name = `${line.place}/${line.record}`;
    const record = this.records.get(name) ?? { hash: null, version: 0, open: new Map(), ahead: new Map() };
    this.records.set(name, record);
    // Of two transactions at once, the one that began first may have written last: its line waits for the one before it.
    const before = line.previous ?? '';
    if (record.ahead.has(before)) throw new Misfit('it follows the same line as another one does');
    const { id, kind, hash, version, after } = line;
    record.ahead.set(before, { id, kind, hash, version, vouching, after: kind === 'erase' ? after : null });
    for (let next = takeNext(record); next; next = takeNext(record)) follow(record, next);
  }

  addSeal(seal) {
    const before = this.last;
    if (sealHash(seal) !== seal.hash) throw new Misfit('its hash does not fit: it was rewritten');
    if (seal.previous !== (before?.hash ?? null) || Number(seal.number) !== Number(before?.number ?? 0) + 1)
      throw new Misfit('it does not follow the seal before it');
    if (seal.fromTransaction !== (before?.toTransaction ?? '0'))
      throw new Misfit('it does not begin where the seal before it ends');
    if (this.lastLine && BigInt(this.lastLine.transaction) >= BigInt(seal.toTransaction))
      throw new Misfit('it stands after lines that it does not cover');
    if (this.counts.open !== Number(seal.lines))
      throw new Misfit(`it covers ${seal.lines} lines, and ${this.counts.open} are there`);
    if (this.root.digest('hex') !== seal.root)
      throw new Misfit('the lines that it covers are not the ones that were sealed');
    this.root = createHash('sha256');
    this.counts.open = 0;
    this.counts.seals += 1;
    this.last = seal;
    this.sealHashes.set(seal.hash, seal.number);
  }

  end() {
    for (const [name, { open, ahead }] of this.records) {
      const [place, record] = [name.slice(0, name.indexOf('/')), name.slice(name.indexOf('/') + 1)];
      const [first] = [...ahead.values()].sort((one, other) => one.id - other.id);
      if (first)
        throw Object.assign(new Misfit('it does not follow the line before it: one was taken out, put in or moved'), {
          where: `${place}, record ${record}, line ${first.id}`,
        });
      if (open.size > 0)
        throw Object.assign(new Misfit('values were removed from its lines, and no line says that it was erased'), {
          where: `${place}, record ${record}`,
        });
    }
  }
}

/** The line of a record that follows the last one; undefined while it has not come. */
function takeNext(record) {
  const before = record.hash ?? '';
  const next = record.ahead.get(before);
  record.ahead.delete(before);
  return next;
}

/** Follows one line of a record: its version, and what it says of values that were removed. */
function follow(record, line) {
  const version = line.version === null ? record.version : record.version + 1;
  if (line.version !== null && Number(line.version) !== version)
    throw new Misfit(`it is version ${line.version} where version ${version} was expected`);
  if (line.vouching !== undefined) record.open.set(String(line.id), line.vouching);
  if (line.kind === 'erase') {
    const vouched = line.version === null && line.after !== null ? JSON.parse(line.after) : {};
    for (const [id, vouching] of record.open) if (vouching === null || vouched[id] === vouching) record.open.delete(id);
  }
  record.hash = line.hash;
  record.version = version;
}

/** Holds a receipt against its signature and the ledger. */
function checkReceipt(receipt, ledger) {
  if (receipt.format !== 'fiche-receipt/1') throw new Unreadable('This is no receipt of a ledger.');
  const key = createPublicKey({ key: Buffer.from(receipt.publicKey, 'base64'), format: 'der', type: 'spki' });
  const signed = Buffer.from([receipt.format, receipt.issued, receipt.publicKey, receipt.seal.hash].join(SEPARATOR));
  if (key.asymmetricKeyType !== 'ed25519' || !verify(null, signed, key, Buffer.from(receipt.signature, 'base64')))
    throw new Misfit('its signature does not fit: it was altered, or signed by somebody else');
  if (sealHash(receipt.seal) !== receipt.seal.hash) throw new Misfit('the seal in it was altered');
  if (!ledger.sealHashes.has(receipt.seal.hash))
    throw new Misfit(
      'its seal is not among those of this ledger: the ledger was rewritten since, or the receipt is of another office',
    );
}

const nameOf = (entry) =>
  entry.line
    ? `${entry.line.place}, record ${entry.line.record}, line ${entry.line.id}`
    : entry.seal
      ? `seal ${entry.seal.number}`
      : `line ${entry.hashed?.id}`;

async function readLedger(file) {
  const ledger = new Ledger();
  let row = 0;
  let head;
  for await (const text of createInterface({
    input: createReadStream(file, 'utf8'),
    crlfDelay: Number.POSITIVE_INFINITY,
  })) {
    row += 1;
    let entry;
    try {
      entry = JSON.parse(text);
    } catch {
      throw new Unreadable(`Row ${row} of ${file} is not JSON: the file is cut off or is no ledger.`);
    }
    if (row === 1) {
      if (entry.format !== 'fiche-ledger/1') throw new Unreadable(`${file} is no exported ledger.`);
      head = entry;
      continue;
    }
    try {
      if (entry.line) ledger.addLine(entry.line);
      else if (entry.hashed) ledger.addHash(entry.hashed);
      else if (entry.seal) ledger.addSeal(entry.seal);
      else throw new Misfit('it is neither a line nor a seal');
    } catch (error) {
      if (error instanceof Misfit) throw Object.assign(error, { where: `${nameOf(entry)} (row ${row})` });
      throw new Unreadable(`Row ${row} of ${file} cannot be read: ${error.message}`);
    }
  }
  if (!head) throw new Unreadable(`${file} is empty.`);
  ledger.end();
  return { ledger, head };
}

async function main([file, ...receipts]) {
  if (!file)
    throw new Unreadable(
      'Give an exported ledger, and the receipts that you hold: verify.mjs ledger.jsonl receipt.json',
    );
  const { ledger, head } = await readLedger(file);
  const { lines, told, seals, open } = ledger.counts;
  const keys = new Set();
  for (const name of receipts) {
    let receipt;
    try {
      receipt = JSON.parse(readFileSync(name, 'utf8'));
    } catch {
      throw new Unreadable(`${name} cannot be read as a receipt.`);
    }
    try {
      checkReceipt(receipt, ledger);
    } catch (error) {
      throw error instanceof Misfit ? Object.assign(error, { where: `The receipt ${name}` }) : error;
    }
    keys.add(receipt.publicKey);
    process.stdout.write(`The receipt ${name} of ${receipt.issued} fits seal ${receipt.seal.number}.\n`);
  }
  if (keys.size > 1) throw Object.assign(new Misfit('they are signed with different keys'), { where: 'The receipts' });
  for (const key of keys) process.stdout.write(`Signed with the key ${sha256(Buffer.from(key, 'base64'))}.\n`);
  process.stdout.write(
    `No tampering found in the ledger of ${head.cabinet}, exported ${head.at}: ${lines} lines, ${told} of them with what they say, ${seals} seals; ${open} lines are not sealed yet.\n`,
  );
}

main(process.argv.slice(2)).catch((error) => {
  const misfit = error instanceof Misfit;
  process.stdout.write(misfit ? `Does not fit: ${error.where}: ${error.message}.\n` : `${error.message}\n`);
  process.exitCode = misfit ? 1 : 2;
});
