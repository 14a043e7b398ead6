import { afterSaveOf, type DefinedForm, SELF, startsOf, viewsOfForm } from '@fiche/core/forms';
import { say } from '@fiche/core/languages';
import { findField } from '@fiche/core/tables';
import type { Definitions, StoredForm } from '../definitions/index.ts';
import { unacceptable } from '../http/index.ts';

/** Checks that the views that a form names are there, shared, and each one of the table that it is to list. Throws 422. */
export function requireViews({ views, tables }: Definitions, definition: DefinedForm): void {
  const problems = viewsOfForm(definition, tables)
    .filter(({ view, table }) => views.get(view)?.table !== table)
    .map(({ path, says, of }) => ({
      path,
      rule: 'view',
      message:
        says === 'records'
          ? say(
              'The view whose records this form shows is not there, or is not shared. Choose another in the form’s settings.',
            )
          : says === 'choices'
            ? say('The view whose records {of} offers is not there, or is not shared. Choose another there.', { of })
            : say('The view whose records {of} shows is not there, or is not shared. Choose another there.', { of }),
    }));
  if (problems.length > 0) throw unacceptable(problems);
}

/** Checks that the forms that follow, or that buttons start, are there and have the fields that are to begin with values. Throws 422. */
export function requireNextSteps({ forms, tables }: Definitions, cabinet: string, definition: DefinedForm): void {
  const known = (id: string): StoredForm | undefined => {
    const form = forms.get(id);
    return form?.cabinet === cabinet && !form.archived ? form : undefined;
  };
  const after = afterSaveOf(definition);
  const problems = startsOf(definition).flatMap(({ label, form, pairs }, at) => {
    const started = known(form);
    if (!started)
      return [
        {
          path: `starts.${at}`,
          rule: 'form',
          message: say('The form that “{label}” starts is not there any more. Choose another in the form’s settings.', {
            label,
          }),
        },
      ];
    const [own, other] = [tables.get(definition.table), tables.get(started.table)];
    const lost = pairs.find(({ from, to }) => !findField(other, to) || (from !== SELF && !findField(own, from)));
    return lost
      ? [
          {
            path: `starts.${at}`,
            rule: 'field',
            message: say(
              'A field that “{label}” begins with is not there any more. Choose another in the form’s settings.',
              { label },
            ),
          },
        ]
      : [];
  });
  if (after.kind === 'form' && !known(after.form))
    problems.push({
      path: 'after',
      rule: 'form',
      message: say('The form that follows a save is not there any more. Choose another in the form’s settings.'),
    });
  if (problems.length > 0) throw unacceptable(problems);
}
