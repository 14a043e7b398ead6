import { connect } from 'node:net';
import { say } from '@fiche/core/languages';
import { Refusal } from '../http/index.ts';

/** Looks through the bytes of a file before anybody opens it. */
export interface Scanner {
  /** What was found in a file, by its name; undefined where it is clean. Throws where it could not be looked through. */
  scan(bytes: AsyncIterable<Buffer>): Promise<string | undefined>;
}

/** The standard anti-virus test file (EICAR), which harms nobody and which every scanner reports; put together here, so that this file is not one. */
const TEST_FILE = Buffer.from(
  ['X5O!P%@AP[4', '\\PZX54(P^)7CC)7}', '$EICAR-STANDARD-', 'ANTIVIRUS-TEST-FILE!', '$H+H*'].join(''),
);

/** The scanner that ships: it knows the standard test file only, so that what happens to an infected file can be seen. */
export const standInScanner: Scanner = {
  async scan(bytes) {
    let tail: Buffer = Buffer.alloc(0);
    for await (const piece of bytes) {
      const seen = Buffer.concat([tail, piece]);
      if (seen.includes(TEST_FILE)) return 'EICAR-Test-File';
      tail = seen.subarray(Math.max(0, seen.length - TEST_FILE.length));
    }
    return undefined;
  },
};

/** After so long without a word a scanner counts as gone, in ms. */
const PATIENCE = 30_000;
const MOST_REPLY = 4_096;

/** A clamd at `tcp://host:port`, asked by its INSTREAM command: pieces with their length before them, then one of length 0. */
export const clamdScanner = ({ hostname, port }: URL): Scanner => ({
  async scan(bytes) {
    const socket = connect({ host: hostname, port: Number(port || 3310) });
    socket.setTimeout(PATIENCE, () => socket.destroy(new Error('clamd does not answer')));
    const reply = new Promise<string>((resolve, reject) => {
      let said = '';
      socket.on('data', (piece) => {
        said += piece;
        if (said.length > MOST_REPLY) socket.destroy(new Error('clamd says too much'));
      });
      socket.on('end', () => resolve(said));
      socket.on('error', reject);
    });
    // A scanner that breaks off is heard of when its reply is awaited.
    reply.catch(() => undefined);
    const write = (piece: Buffer): Promise<void> =>
      new Promise((resolve) => {
        if (socket.destroyed || socket.write(piece)) resolve();
        else socket.once('drain', resolve).once('close', resolve);
      });
    await write(Buffer.from('zINSTREAM\0'));
    for await (const piece of bytes) {
      const length = Buffer.alloc(4);
      length.writeUInt32BE(piece.length);
      await write(Buffer.concat([length, piece]));
    }
    await write(Buffer.alloc(4));
    return readReply(await reply.finally(() => socket.destroy()));
  },
});

/**
 * What a reply of clamd says: `stream: OK`, or the name in `stream: Eicar-Signature FOUND`. Throws for anything else.
 */
export function readReply(reply: string): string | undefined {
  const said = reply.replace(/\0/g, '').trim();
  if (/^stream: OK$/.test(said)) return undefined;
  const [, found] = /^stream: (.+) FOUND$/.exec(said) ?? [];
  if (found === undefined) throw new Error(`clamd answers: ${said.slice(0, 200)}`);
  return found;
}

/** Refuses a file in which something was found, or that cannot be looked through just now. */
export async function requireClean(scanner: Scanner, name: string, bytes: AsyncIterable<Buffer>): Promise<void> {
  let found: string | undefined;
  try {
    found = await scanner.scan(bytes);
  } catch {
    throw new Refusal(
      503,
      say('{file} cannot be checked for viruses just now. Try again in a moment.', { file: name }),
    );
  }
  if (found !== undefined)
    throw new Refusal(
      422,
      say('{file} was not taken: it carries a virus ({virus}). Choose another file.', { file: name, virus: found }),
    );
}

/** What to set for a scanner of one’s own. */
export const CLAMD_WRONG =
  'CLAMD_URL is wrong: give the address of a clamd, such as tcp://127.0.0.1:3310, or leave it out.';

/** The scanner that CLAMD_URL of the environment names, or the one that ships; undefined where the address is wrong. */
export function scannerFrom({
  CLAMD_URL: address = '',
}: Readonly<Record<string, string | undefined>>): Scanner | undefined {
  if (address === '') return standInScanner;
  const url = URL.canParse(address) ? new URL(address) : undefined;
  return url?.protocol === 'tcp:' && url.hostname !== '' ? clamdScanner(url) : undefined;
}
