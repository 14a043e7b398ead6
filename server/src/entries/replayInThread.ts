import type { DraftReplay } from '@fiche/core/api';
import { say } from '@fiche/core/languages';
import { inThread } from '../threads/index.ts';
import type { ReplayJob } from './replayThread.ts';

/** What `replayDraft` finds, in a thread of its own: requests go on being answered meanwhile. Throws 422 where it takes too long. */
export async function replayInThread(job: ReplayJob): Promise<DraftReplay> {
  const answers = inThread<DraftReplay>({
    module: new URL('./replayThread.ts', import.meta.url),
    job,
    tooMuch: say('Deciding the saved records again took too long and was given up. Try again when less is going on.'),
  });
  // Read to its end, so that the thread is kept for another job.
  let found: DraftReplay | undefined;
  for await (const replay of answers) found = replay;
  if (!found) throw new Error('The thread gave no answer');
  return found;
}
