import type { AddressInfo } from 'node:net';
import { createServer, type Server } from 'node:net';
import fc from 'fast-check';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { type TestOffice, testOffice } from '../fixtures/office.ts';
import { readReply, scannerFrom, standInScanner } from './scanner.ts';

const TEST_FILE = Buffer.from(
  ['X5O!P%@AP[4', '\\PZX54(P^)7CC)7}', '$EICAR-STANDARD-', 'ANTIVIRUS-TEST-FILE!', '$H+H*'].join(''),
);
async function* pieces(whole: Buffer, size: number): AsyncGenerator<Buffer> {
  for (let from = 0; from < whole.length; from += size) yield whole.subarray(from, from + size);
}

/** A clamd that answers what it is told to, and keeps what it was sent. */
async function clamd(answer: string): Promise<{ server: Server; url: string; sent: Buffer[] }> {
  const sent: Buffer[] = [];
  const server = createServer((socket) => {
    let whole = Buffer.alloc(0);
    socket.on('error', () => undefined);
    socket.on('data', (piece) => {
      whole = Buffer.concat([whole, piece]);
      // The piece of length 0 ends the stream.
      if (!whole.subarray(-4).equals(Buffer.alloc(4)) || whole.length < 14) return;
      sent.push(whole);
      socket.end(answer);
    });
  });
  await new Promise<void>((ready) => server.listen(0, '127.0.0.1', ready));
  return { server, url: `tcp://127.0.0.1:${(server.address() as AddressInfo).port}`, sent };
}

describe('the scanner that ships', () => {
  test('finds the standard test file, however the stream is cut, and nothing else', async () => {
    await fc.assert(
      fc.asyncProperty(
        fc.uint8Array({ maxLength: 200 }),
        fc.boolean(),
        fc.integer({ min: 1, max: 90 }),
        async (around, bad, size) => {
          const whole = Buffer.concat([around, bad ? TEST_FILE : Buffer.alloc(0), around]);
          const found = await standInScanner.scan(pieces(whole, size));
          expect(found).toBe(bad ? 'EICAR-Test-File' : undefined);
        },
      ),
    );
  });
});

describe('clamd', () => {
  test('is sent the pieces with their lengths, and its verdict is read', async () => {
    const { server, url, sent } = await clamd('stream: Win.Test.EICAR_HDB-1 FOUND\0');
    try {
      expect(await scannerFrom({ CLAMD_URL: url })?.scan(pieces(Buffer.from('abcdef'), 4))).toBe(
        'Win.Test.EICAR_HDB-1',
      );
      const parts = ['zINSTREAM\0', '\0\0\0\x04abcd', '\0\0\0\x02ef', '\0\0\0\0'];
      expect(sent[0]?.toString('latin1')).toBe(parts.join(''));
    } finally {
      server.close();
    }
  });

  test('a clean file is clean, and anything else than a verdict is none', () => {
    expect(readReply('stream: OK\0')).toBeUndefined();
    expect(() => readReply('INSTREAM size limit exceeded. ERROR\0')).toThrow('clamd answers');
    expect(() => readReply('')).toThrow('clamd answers');
  });

  test('its address is checked when the server starts', () => {
    expect(scannerFrom({})).toBe(standInScanner);
    expect([scannerFrom({ CLAMD_URL: 'clamd' }), scannerFrom({ CLAMD_URL: 'http://127.0.0.1:3310' })]).toEqual([
      undefined,
      undefined,
    ]);
  });
});

describe('files of strangers', () => {
  let office: TestOffice;
  beforeAll(async () => {
    office = await testOffice();
    const builder = await office.signIn('harbourmaster');
    await builder.call('POST', '/api/tables/quay_stays/fields', { field: { label: 'Papers', type: 'attachments' } });
    const { body: draft } = await builder.call('GET', '/api/forms/quay_arrival/draft');
    const [first, ...rest] = draft.definition.sections;
    const definition = {
      ...draft.definition,
      sections: [{ ...first, items: [...first.items, { field: 'papers' }] }, ...rest],
    };
    const saved = await builder.call('PUT', '/api/forms/quay_arrival/draft', { definition, revision: draft.revision });
    const { status } = await builder.call('POST', '/api/forms/quay_arrival/publish', { revision: saved.body.revision });
    expect(status).toBe(200);
  });
  afterAll(() => office.close());
  const send = (content: Buffer) =>
    office.anonymous.send('/api/public/arrival/files?field=papers&name=papers.txt', content);
  const contents = async (): Promise<number> => {
    const { rows } = await office.database.databases.owner.raw('SELECT count(*)::integer AS n FROM fiche.content');
    return rows[0].n;
  };

  test('in which something is found are refused in words, and nothing of them is kept', async () => {
    expect((await send(Buffer.from('A clean letter.'))).status).toBe(200);
    const before = await contents();
    const refused = await send(TEST_FILE);
    expect([refused.status, refused.body.detail]).toEqual([
      422,
      'papers.txt was not taken: it carries a virus (EICAR-Test-File). Choose another file.',
    ]);
    expect(await contents()).toBe(before);
  });

  test('are not taken while the scanner is away', async () => {
    Object.assign(office.services, { scanner: scannerFrom({ CLAMD_URL: 'tcp://127.0.0.1:1' }) });
    const refused = await send(Buffer.from('Another clean letter.'));
    expect([refused.status, refused.body.detail]).toEqual([
      503,
      'papers.txt cannot be checked for viruses just now. Try again in a moment.',
    ]);
  });
});
