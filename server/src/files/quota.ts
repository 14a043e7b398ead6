import { statfs } from 'node:fs/promises';
import { say } from '@fiche/core/languages';
import type { Database } from '../database/index.ts';
import { countTry, Refusal } from '../http/index.ts';

const HOUR = 3_600;
const MB = 1024 * 1024;
/** Megabytes an hour: from one address to a public page, to a page in all, by an account, and by everybody. */
const OF_ADDRESS = 300;
const OF_PAGE = 3_000;
const OF_ACCOUNT = 10_000;
const IN_ALL = 40_000;
/** Below so much free space, in bytes, nothing more is received: the database needs room to work. */
const LEAST_FREE = 512 * MB;

/** Refuses to receive more when the disk of the database is nearly full. `folder` is null where it is another machine's. */
export async function requireDiskSpace(folder: string | null): Promise<void> {
  if (folder === null) return;
  const { bavail, bsize } = await statfs(folder);
  if (bavail * bsize < LEAST_FREE)
    throw new Refusal(
      507,
      say('The disk of this office is nearly full, so no files are taken. Tell its administrator.'),
    );
}

/**
 * Counts what was received against what one sender, a page, and everybody together may send in an hour. `actor` is the
 * account or the page; `address` where a page's file came from.
 */
export async function countBytes(app: Database, actor: string, address: string | null, bytes: number): Promise<void> {
  const megabytes = Math.max(1, Math.ceil(bytes / MB));
  const quotas: [string, number][] = [
    ...(address === null ? [] : ([[`bytes:${actor}:${address}`, OF_ADDRESS]] as [string, number][])),
    [`bytes:${actor}`, address === null ? OF_ACCOUNT : OF_PAGE],
    ['bytes', IN_ALL],
  ];
  for (const [what, most] of quotas) {
    const { count, left } = await countTry(app, what, HOUR, megabytes);
    if (count > most)
      throw new Refusal(
        429,
        say('Too much was sent: at most {most} MB an hour are taken here. Wait {minutes} min, then try again.', {
          most,
          minutes: Math.ceil(left / 60),
        }),
        [],
        {
          retryAfter: left,
        },
      );
  }
}
