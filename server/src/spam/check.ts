import { createHash } from 'node:crypto';
import type { PageProof } from '@fiche/core/api';
import type { IdOfForm } from '@fiche/core/tables';
import type { Database } from '../database/index.ts';
import { begunAt } from '../forms/index.ts';
import { countTry } from '../http/index.ts';

/** Leading zero bits that the hash of a page's token and the sender's work has: about 8,000 tries, unseen by a person. */
export const WORK_BITS = 13;
/** A page that was opened so many hours ago is opened anew by a person before it is sent. */
const OPEN_HOURS = 72;
/** Answers that one opening of a page is good for. */
const MOST_OF_OPENING = 5;

interface SentAnswer {
  readonly form: IdOfForm;
  readonly version: number;
  /** The token of the opened page. */
  readonly begun: string | undefined;
  readonly proof: PageProof | undefined;
  /** The least seconds that a person needs from opening the page to sending it. */
  readonly leastSeconds: number;
}

const zeroBits = (hash: Buffer): number => {
  const at = hash.findIndex((byte) => byte !== 0);
  return at === -1 ? hash.length * 8 : at * 8 + Math.clz32(hash[at] ?? 0) - 24;
};

/** Whether the work that was sent with an opened page's token was done. */
export const workIsDone = (begun: string, work: string): boolean =>
  zeroBits(createHash('sha256').update(`${begun}:${work}`).digest()) >= WORK_BITS;

/** Why an answer of a public page looks like spam, in words for the person who decides; undefined when it does not. */
export async function spamReason(database: Database, sent: SentAnswer): Promise<string | undefined> {
  const { form, version, begun, proof, leastSeconds } = sent;
  if ((proof?.trap ?? '') !== '') return 'A field that people do not see was filled in.';
  const opened = begun === undefined ? undefined : await begunAt(database, form, version, begun);
  if (begun === undefined || opened === undefined) return 'It was sent without the page having been opened.';
  const seconds = Date.now() / 1_000 - opened;
  if (seconds < leastSeconds)
    return `It was sent ${Math.max(0, Math.round(seconds))} s after the page was opened; people need ${leastSeconds} s at least.`;
  if (seconds > OPEN_HOURS * 3_600)
    return `The page was opened ${Math.round(seconds / 3_600)} hours before it was sent.`;
  if (!workIsDone(begun, proof?.work ?? '')) return 'The sender’s browser did not do its small calculation.';
  const opening = createHash('sha256').update(begun).digest('base64url');
  const { count } = await countTry(database, `opening:${opening}`, OPEN_HOURS * 3_600);
  return count > MOST_OF_OPENING ? `${count} answers were sent from one opening of the page.` : undefined;
}
