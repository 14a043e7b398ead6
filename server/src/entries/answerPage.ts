import type { EntryAnswer, EntryBody } from '@fiche/core/api';
import { say } from '@fiche/core/languages';
import { civilNow } from '@fiche/core/office';
import { noteCorrection, type ReceivedAnswer, receiptFor, requireOpen } from '../answers/index.ts';
import { Refusal } from '../http/index.ts';
import type { Services } from '../services.ts';
import { holdAnswer, spamReason } from '../spam/index.ts';
import { requireAnswer } from './entryRights.ts';
import { SeveralFound, tryWithNewest } from './findByKey.ts';
import type { AnyCall, Runner } from './runners.ts';
import { saveEntry } from './save.ts';
import { tryEntry } from './tryEntry.ts';

type EntryCall = AnyCall & { readonly body: EntryBody };
type Save = Parameters<typeof saveEntry>[1];

/**
 * Saves an answer of a public page, or keeps it for a person to look at; with a receipt, corrects the answer that it names. A
 * respondent gets a reference, not the record. Throws what `saveEntry` throws, and 409 where the page takes no answers.
 */
export async function answerPage(
  services: Services,
  call: EntryCall,
  runner: Runner,
  given: Save,
  key: string,
): Promise<EntryAnswer> {
  const database = services.databases.app;
  const { settings, access, received } = runner.page ?? {};
  const save = { ...given, body: { ...given.body, values: { ...given.body.values, ...valuesOfLink(runner) } } };
  // The text that was shown is that of the version that was filled.
  const consent = runner.form.definition.page?.consent;
  requireAnswer(save.body);
  if (consent !== undefined && call.body.page?.agreed !== true && !received)
    throw new Refusal(422, say('Agree to the text above the button first: without it the answer cannot be sent.'));
  if (received) {
    const corrects = settings && { id: received.id, form: runner.formId ?? '', page: settings };
    return correctAnswer(services, call, { ...save, ...(corrects ? { corrects } : {}) }, received);
  }
  const why = await whyHeld(services, call, runner);
  if (why !== undefined) return hold(services, call, runner, save, { why, key });
  const form = runner.formId ?? '';
  const version = runner.through.version ?? 0;
  const answer = settings && { form, version, page: settings, consent, mail: services.mail, ...access };
  try {
    const { reference, record } = await saveEntry(database, { ...save, ...(answer ? { answer } : {}) });
    const made = settings?.corrections && record ? { table: runner.form.table.id, record: record.id } : undefined;
    const receipt = made && (await receiptFor(database, form, made));
    return { record: null, reference, ...(receipt ? { receipt } : {}) };
  } catch (error) {
    if (!(error instanceof SeveralFound)) throw error;
    return hold(services, call, runner, save, { why: error.message, key });
  }
}

/** The value that a personal link gives, whatever was sent; an answer that came by one keeps it when it is corrected. */
function valuesOfLink({ page }: Runner): EntryBody['values'] {
  const record = page?.received ? page.received.linked : page?.access.link?.record;
  return page?.settings.who?.kind === 'link' && record ? { [page.settings.who.fills]: record } : {};
}

/** Why an answer of a public page is held for a person to look at; undefined when it is not. */
async function whyHeld(services: Services, call: EntryCall, runner: Runner): Promise<string | undefined> {
  if (services.leastSeconds === null) return undefined;
  const begun = call.request.headers['x-fiche-begun'];
  return spamReason(services.databases.app, {
    form: runner.formId ?? '',
    version: runner.through.version ?? 0,
    begun: typeof begun === 'string' ? begun : undefined,
    proof: call.body.page,
    leastSeconds: services.leastSeconds,
  });
}

/** Keeps an answer of a public page for a person to look at, once it is known to be one that can be saved. */
async function hold(
  services: Services,
  call: EntryCall,
  runner: Runner,
  { body }: Save,
  { why, key }: { readonly why: string; readonly key: string },
): Promise<EntryAnswer> {
  const database = services.databases.app;
  const { access, settings } = runner.page ?? {};
  const form = runner.formId ?? '';
  if (settings) await requireOpen(database, form, settings, civilNow());
  await tryWithNewest((meant) => tryEntry(services, runner, { ...body, meant }, call.definitions));
  const id = await holdAnswer(database, {
    form,
    version: runner.through.version ?? 0,
    why,
    body,
    key,
    access: access ?? {},
  });
  return { record: null, reference: `H-${id}`, waits: true };
}

/** Changes the record of an answer as its respondent corrects it. What the office has changed meanwhile is not told. */
async function correctAnswer(
  services: Services,
  call: EntryCall,
  save: Save,
  received: ReceivedAnswer,
): Promise<EntryAnswer> {
  await saveEntry(services.databases.app, save).catch((error: unknown) => {
    if (!(error instanceof Refusal) || error.status !== 409) throw error;
    throw new Refusal(
      409,
      say('The office has changed this answer meanwhile. Open your link again to see it as it is now.'),
    );
  });
  await noteCorrection(services.databases.app, received);
  return { record: null, reference: received.reference, receipt: String(call.request.headers['x-fiche-receipt']) };
}
