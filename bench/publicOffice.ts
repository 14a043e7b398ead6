import { confirmDisclosures } from '@fiche/core/proof';
import { asActor } from '@fiche/server/database/index';
import { loadDefinitions } from '@fiche/server/definitions/index';
import { publishForm, saveDraft } from '@fiche/server/forms/index';
import type { BenchOffice } from './office.ts';

/** The address of the public page of the bench office. */
export const SLUG = 'arrival';
const FORM = 'quay_check_in';

/** Puts the form of the bench office on a public page that keeps to a limit, as the dearest one does. */
export async function publishPage({ databases: { owner } }: BenchOffice): Promise<void> {
  const actor = { name: 'harbourmaster', through: { kind: 'editor', label: 'bench' } } as const;
  await asActor(owner, actor, async (transaction) => {
    const { forms, tables } = await loadDefinitions(transaction);
    const form = forms.get(FORM);
    if (!form) throw new Error('The bench office has no form');
    const page = { slug: SLUG, intro: '', thanks: 'Thank you.', disclosed: [], atMost: 1_000_000 };
    const definition = confirmDisclosures({ ...form.draft, page }, tables);
    const { revision } = await saveDraft(transaction, FORM, definition, form.draftRevision);
    await publishForm(transaction, FORM, revision);
  });
}
