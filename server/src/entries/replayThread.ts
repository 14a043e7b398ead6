import { parentPort, workerData } from 'node:worker_threads';
import type { DraftReplay } from '@fiche/core/api';
import { type Catalogue, setReader, translations } from '@fiche/core/languages';
import { definitionsFor } from '../access/index.ts';
import { connectThread } from '../database/index.ts';
import { findForm } from '../forms/index.ts';
import { Refusal } from '../http/index.ts';
import type { ThreadAnswer } from '../threads/index.ts';
import { replayDraft } from './replayDraft.ts';

// The thread that decides what was saved again: hundreds of decisions in a row would hold up the thread that answers requests.

/** Which draft is tried, for whom. */
export interface ReplayJob {
  /** Where the database is, for the application's role. */
  readonly url: string;
  readonly cabinet: string;
  readonly account: string;
  readonly form: string;
  /** The language of the screens of who asks, with its texts. */
  readonly language: string;
  readonly texts: Catalogue;
}

const send = (answer: ThreadAnswer<DraftReplay>): void => parentPort?.postMessage(answer);

const { url, cabinet, account, form, language, texts } = workerData as ReplayJob;
if (language !== 'en') {
  const reader = { language, translated: await translations(language, texts), words: {} };
  setReader(() => reader);
}
const database = connectThread(url);
try {
  const definitions = await definitionsFor(database, cabinet, account);
  send({ kind: 'part', part: await replayDraft(database, definitions, findForm(definitions, form)) });
  send({ kind: 'end' });
} catch (error) {
  if (!(error instanceof Refusal)) throw error;
  send({ kind: 'wrong', message: error.message });
} finally {
  await database.destroy();
}
