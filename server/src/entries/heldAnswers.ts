import { type EntryBody, routes } from '@fiche/core/api';
import { say } from '@fiche/core/languages';
import type { PublicPage } from '@fiche/core/pages';
import { type IdOfForm, linkedTable, type TableDefinition, typeOf } from '@fiche/core/tables';
import type { FastifyInstance } from 'fastify';
import { route } from '../access/index.ts';
import type { AnswerToKeep, PageAccess } from '../answers/index.ts';
import { asActor, type Database, setActor } from '../database/index.ts';
import { type Definitions, requireInUse } from '../definitions/index.ts';
import { findForm, findFormInUse, prepared, versionOf } from '../forms/index.ts';
import { Refusal } from '../http/index.ts';
import { findRecord } from '../records/index.ts';
import { withRipples } from '../ripples/index.ts';
import type { MailSettings, Services } from '../services.ts';
import { decideAnswer, heldAnswers, waitingAnswer } from '../spam/index.ts';
import { SeveralFound } from './findByKey.ts';
import { accessWords } from './runners.ts';
import { writeEntry } from './save.ts';

/** What was answered as people read it: the titles of linked records, and every other value in the words of its type. */
async function shownValues(
  database: Database,
  { tables }: Definitions,
  table: TableDefinition,
  values: EntryBody['values'],
): Promise<{ label: string; value: string }[]> {
  const shown: { label: string; value: string }[] = [];
  for (const field of table.fields) {
    const read = typeOf(field).accept(values[field.id] ?? null, field.settings);
    if (!read.ok || read.value === null) continue;
    const target = tables.get(linkedTable(field) ?? '');
    const value = target
      ? (await findRecord(database, tables, target.id, Number(read.value)).catch(() => undefined))?.title
      : typeOf(field).format(read.value, field.settings);
    shown.push({ label: field.label, value: value ?? `#${read.value}` });
  }
  return shown;
}

/** A held answer as it is kept once it is released: it came while its page was open, and its sender agreed to what it showed. */
const answerOfHeld = (
  mail: MailSettings,
  { form, version, shown, today }: { form: IdOfForm; version: number; shown: PublicPage; today: PublicPage },
  { id, access }: { readonly id: number; readonly access: PageAccess },
): AnswerToKeep => {
  const { when: _when, ...page } = today;
  return { form, version, page, mail, consent: shown.consent, held: id, ...access };
};

/** The list of answers that are held as spam, and what a person decides of each. */
export function heldAnswerRoutes(app: FastifyInstance, services: Services): void {
  const { databases } = services;
  route(app, services, routes.listHeld, async ({ params, definitions }) => {
    const form = findForm(definitions, params.form ?? '');
    const answers = [];
    for (const one of await heldAnswers(databases.app, form.id)) {
      const { definition } = await versionOf(databases.app, form, one.version);
      const lines = [];
      for (const [id, given = []] of Object.entries(one.lines ?? {})) {
        const subform = prepared(definitions, definition).subforms.get(id);
        if (!subform || given.length === 0) continue;
        const read = [];
        for (const line of given)
          read.push(await shownValues(databases.app, definitions, subform.form.table, line.values ?? {}));
        lines.push({ label: subform.label, lines: read });
      }
      const answered = prepared(definitions, definition).table;
      const values = await shownValues(databases.app, definitions, answered, one.values);
      answers.push({ ...one, values, lines });
    }
    return { answers };
  });

  route(app, services, routes.decideHeld, async ({ params, body, caller, definitions }) => {
    const form = findForm(definitions, params.form ?? '');
    const by = caller.login ?? '';
    const slug = form.slug ?? form.draft.page?.slug ?? form.id;
    const { label } = form.draft;
    const through = { kind: 'page', label, reason: `released by ${by}: ${body.reason}` } as const;
    return asActor(databases.app, { name: by, through }, async (transaction) => {
      const held = await waitingAnswer(transaction, form.id, Number(params.id));
      if (body.decision === 'discard') {
        await decideAnswer(transaction, held.id, by, 'discarded', body.reason);
        return { reference: null };
      }
      const { definition, version } = await versionOf(transaction, findFormInUse(definitions, form.id), held.version);
      requireInUse(definitions, form.cabinet);
      // Saved as its page would have saved it, and its line says who released it.
      const actor = { name: `page:${slug}`, through: { ...through, version, ...accessWords(held.access) } };
      await setActor(transaction, actor);
      const saver = { actor, account: null, definitions, mail: services.mail };
      const released = {
        form: prepared(definitions.seen?.whole ?? definitions, definition),
        actor,
        account: null,
        cabinet: definitions.seen?.whole ?? definitions,
        address: `page ${slug}`,
        choosing: definitions,
        body: { ...held.body, ...(body.meant ? { meant: body.meant } : {}) },
        ...(definition.page
          ? {
              answer: answerOfHeld(
                services.mail,
                { form: form.id, version, shown: definition.page, today: form.live?.page ?? definition.page },
                held,
              ),
            }
          : {}),
        mail: services.mail,
      };
      const { reference } = await withRipples(transaction, saver, () => writeEntry(transaction, released));
      await decideAnswer(transaction, held.id, by, 'released', body.reason);
      return { reference };
    }).catch((error: unknown) => {
      if (!(error instanceof Refusal) || error.status !== 422 || error instanceof SeveralFound) throw error;
      throw new Refusal(
        422,
        say('This answer cannot be saved as it is: {message}', { message: error.message }),
        error.errors,
      );
    });
  });
}
