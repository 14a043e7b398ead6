import { pathsOf } from '@fiche/core/conditions';
import { type EntryState, readable, readForm, showValue } from '@fiche/core/entry';
import { isBlank, sameValue } from '@fiche/core/fields';
import type { Origin } from '@fiche/core/fills';
import { type PreparedField, rootOf } from '@fiche/core/forms';
import { joinedWords, say } from '@fiche/core/languages';
import { linkedTable } from '@fiche/core/tables';
import type { Filled } from '../parts/index.ts';

/** What a field says about where its value came from, and what filling it again would do. */
export function filledView(state: EntryState, field: PreparedField, origin: Origin, onAgain: () => void): Filled {
  const value = state.values[field.id] ?? null;
  const by = state.form.fields.get(origin.by)?.label ?? origin.by;
  const from = { field: by, title: origin.title };
  const isLink = linkedTable(field.field) !== undefined;
  const show = (one: Origin['value']): string => (isBlank(one) ? say('blank') : showValue(state, field.id, one));
  const again = (words: string) => (field.readOnly ? undefined : words);
  if (origin.now !== undefined && !sameValue(origin.now, value))
    return {
      words: isLink
        ? say('Filled by {field} from {title}, which says something else today.', from)
        : say('Filled by {field} from {title}, which says {value} today.', { ...from, value: show(origin.now) }),
      differs: true,
      again: again(isLink ? say('Fill it again') : say('Take {value}', { value: show(origin.now) })),
      onAgain,
    };
  if (!sameValue(origin.value, value) && origin.now === undefined)
    return {
      words: isLink
        ? say('Typed over: filled by {field} from {title}.', from)
        : say('Typed over: filled by {field} from {title}, which says {value}.', {
            ...from,
            value: show(origin.value),
          }),
      differs: true,
      again: again(say('Fill it again')),
      onAgain,
    };
  return { words: say('Filled by {field} from {title}.', from), differs: false, onAgain };
}

/** Why a dropdown has no choices: the fields that narrow it, with what they say now. */
export function emptyWords(state: EntryState, field: PreparedField): string {
  const entry = readable(state);
  const parents = [...new Set(pathsOf(field.narrowing.where, 'form').map(rootOf))].filter(
    (id) => id !== field.id && !isBlank(readForm(entry, id)),
  );
  const named = parents.map((id) => `${state.form.fields.get(id)?.label ?? id} “${showValue(state, id)}”`);
  if (named.length > 0)
    return named.length === 1
      ? say('Nothing fits {values}. Change it to find more.', { values: named[0] ?? '' })
      : say('Nothing fits {values}. Change one of them to find more.', { values: joinedWords(named) });
  const table = state.form.tables.get(field.source?.table ?? '')?.label ?? '';
  return field.narrowing.where.of.length > 0
    ? say('No record of {table} in use meets what is asked of it here.', { table })
    : say('{table} has no records in use yet.', { table });
}
