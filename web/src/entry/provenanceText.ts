import { pathsOf } from '@fiche/core/conditions';
import { type EntryState, readable, readForm, showValue } from '@fiche/core/entry';
import { isBlank, sameValue } from '@fiche/core/fields';
import type { Origin } from '@fiche/core/fills';
import { type PreparedField, rootOf } from '@fiche/core/forms';
import { linkedTable } from '@fiche/core/tables';
import type { Filled } from '../parts/index.ts';

/** What a field says about where its value came from, and what filling it again would do. */
export function filledView(state: EntryState, field: PreparedField, origin: Origin, onAgain: () => void): Filled {
  const value = state.values[field.id] ?? null;
  const by = state.form.fields.get(origin.by)?.label ?? origin.by;
  const source = `filled by ${by} from ${origin.title}`;
  const isLink = linkedTable(field.field) !== undefined;
  const show = (one: Origin['value']): string => (isBlank(one) ? 'blank' : showValue(state, field.id, one));
  const again = (words: string) => (field.readOnly ? undefined : words);
  if (origin.now !== undefined && !sameValue(origin.now, value))
    return {
      words: `${source}, which says ${isLink ? 'something else' : show(origin.now)} today.`,
      differs: true,
      again: again(isLink ? 'Fill it again' : `Take ${show(origin.now)}`),
      onAgain,
    };
  if (!sameValue(origin.value, value) && origin.now === undefined)
    return {
      words: `Typed over: ${source}${isLink ? '' : `, which says ${show(origin.value)}`}.`,
      differs: true,
      again: again('Fill it again'),
      onAgain,
    };
  return { words: `${source[0]?.toUpperCase()}${source.slice(1)}.`, differs: false, onAgain };
}

/** Why a dropdown has no choices: the fields that narrow it, with what they say now. */
export function emptyWords(state: EntryState, field: PreparedField): string {
  const entry = readable(state);
  const parents = [...new Set(pathsOf(field.narrowing.where, 'form').map(rootOf))].filter(
    (id) => id !== field.id && !isBlank(readForm(entry, id)),
  );
  const named = parents.map((id) => `${state.form.fields.get(id)?.label ?? id} “${showValue(state, id)}”`);
  if (named.length > 0)
    return `Nothing fits ${named.join(' and ')}. Change ${named.length === 1 ? 'it' : 'one of them'} to find more.`;
  const source = state.form.tables.get(field.source?.table ?? '')?.label;
  return field.narrowing.where.of.length > 0
    ? `No record of ${source} in use meets what is asked of it here.`
    : `${source} has no records in use yet.`;
}
