import type { DraftReplay } from '@fiche/core/api';
import { type Catalogue, ENGLISH, setReader, translations } from '@fiche/core/languages';
import { definitionsFor } from '../access/index.ts';
import { connectThread } from '../database/index.ts';
import { findForm } from '../forms/index.ts';
import { Refusal } from '../http/index.ts';
import { answerJobs, WrongJob } from '../jobs/index.ts';
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

answerJobs<ReplayJob, DraftReplay>(async ({ url, cabinet, account, form, language, texts }, pass) => {
  const reader = language === 'en' ? ENGLISH : { language, translated: await translations(language, texts), words: {} };
  setReader(() => reader);
  const database = connectThread(url);
  try {
    const definitions = await definitionsFor(database, cabinet, account);
    pass(await replayDraft(database, definitions, findForm(definitions, form)));
  } catch (error) {
    throw error instanceof Refusal ? new WrongJob(error.message) : error;
  } finally {
    await database.destroy();
  }
});
