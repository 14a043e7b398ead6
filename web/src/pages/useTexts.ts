import type { ChoiceList } from '@fiche/core/entry';
import { type DefinedForm, type PageText, type PreparedField, prepareForm, textsOf } from '@fiche/core/forms';
import type { Tables } from '@fiche/core/tables';
import { useQueries } from '@tanstack/react-query';
import { useMemo } from 'react';
import { send } from '../client/index.ts';

/** So many words of an option list are offered to be given in another language. */
const MOST_WORDS = 200;

/** The texts of a page in reading order, with the words that its dropdowns offer from option lists. */
export function useTexts(form: string, definition: DefinedForm, tables: Tables): readonly PageText[] {
  const own = useMemo(() => textsOf({ definition, tables }), [definition, tables]);
  const lists = useMemo(() => {
    const running = prepareForm(definition, tables);
    const of = (fields: ReadonlyMap<string, PreparedField>, subform?: string) =>
      [...fields.values()].flatMap(({ id, placed, source }) =>
        placed && source?.column !== undefined ? [{ field: id, subform }] : [],
      );
    return [
      ...of(running.fields),
      ...[...running.subforms.values()].flatMap((subform) => of(subform.form.fields, subform.id)),
    ];
  }, [definition, tables]);
  const words = useQueries({
    queries: lists.map(({ field, subform }) => ({
      queryKey: ['words of a page', form, field, subform],
      queryFn: () =>
        send<ChoiceList>('POST', `/api/forms/${form}/draft/choices`, {
          field,
          values: {},
          search: '',
          limit: MOST_WORDS,
          ...(subform === undefined ? {} : { within: { subform, values: {} } }),
        }),
    })),
  });
  const known = new Set(own.map(({ text }) => text));
  const listed = new Set(words.flatMap(({ data }) => data?.choices.map((one) => String(one.value)) ?? []));
  return [...own, ...[...listed].filter((text) => !known.has(text)).map((text) => ({ text, kind: 'choice' as const }))];
}
