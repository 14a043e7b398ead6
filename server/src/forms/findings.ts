import type { DefinedForm } from '@fiche/core/forms';
import { say } from '@fiche/core/languages';
import { civilNow } from '@fiche/core/office';
import { type Finding, prove } from '@fiche/core/proof';
import { unfillableForms } from '@fiche/core/rights';
import type { IdOfForm } from '@fiche/core/tables';
import type { Definitions } from '../definitions/index.ts';

/** The roles that may fill a form and cannot give what it requires. */
function rolesThatCannotFill({ roles, tables }: Definitions, id: IdOfForm, definition: DefinedForm): Finding[] {
  const cabinet = tables.get(definition.table)?.cabinet ?? '';
  return [...(roles.get(cabinet)?.values() ?? [])].flatMap((role) =>
    unfillableForms(role, [{ id, definition }], tables).map(
      ({ path, message }): Finding => ({
        rule: 'role',
        weight: 'look',
        path,
        message,
        why: say('Whoever has the role is refused when saving, and cannot mend it.'),
      }),
    ),
  );
}

/** What the check of a form finds: in its definition, for the roles that fill it, and at its address. */
export function findings(definitions: Definitions, formId: IdOfForm, definition: DefinedForm): Finding[] {
  const found = [
    ...prove(definition, definitions.tables, civilNow()),
    ...rolesThatCannotFill(definitions, formId, definition),
  ];
  const slug = definition.page?.slug;
  const taken =
    slug !== undefined && [...definitions.forms.values()].some((one) => one.id !== formId && one.slug === slug);
  if (taken)
    found.unshift({
      path: 'page',
      rule: 'slug',
      weight: 'must',
      message: say('Another form has the address “{slug}”. Choose another.', { slug }),
      why: say('An address leads to one form only.'),
    });
  return found;
}
