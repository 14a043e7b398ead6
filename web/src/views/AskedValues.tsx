import { type AskedAnswers, questionsOf, withAnswers } from '@fiche/core/conditions';
import { say } from '@fiche/core/languages';
import type { TableDefinition } from '@fiche/core/tables';
import type { Listing } from '@fiche/core/views';
import { useSearchParams } from 'react-router-dom';
import { useOffice } from '../client/index.ts';
import { type Phrase, Sentence } from '../parts/index.ts';
import { narrowingSides, questionParts, useRecordTitles } from '../sentences/index.ts';
import { answersIn, withAnswersIn } from './answersInAddress.ts';
import { useViews } from './useViews.ts';

interface Props {
  readonly table: TableDefinition;
  readonly filter: Listing['filter'];
}

/** What a view asks each time that it is opened, as a sentence with a slot for each answer; nothing where it asks nothing. */
export function AskedValues({ table, filter }: Props) {
  const { tables } = useOffice();
  const [address, setAddress] = useSearchParams();
  const answers = answersIn(address);
  const sides = narrowingSides(tables, table.id, []);
  const titles = useRecordTitles(sides, withAnswers(filter, answers));
  const questions = questionsOf(filter);
  if (questions.length === 0) return null;
  const answer = (at: number, value: AskedAnswers[number]): void =>
    setAddress(
      (now) =>
        withAnswersIn(
          now,
          questions.map((_one, n) => (n === at ? value : (answers[n] ?? null))),
        ),
      { replace: true },
    );
  const parts = questions.flatMap(
    ({ comparison }, at): Phrase => [
      at === 0 ? `${say('Choose which {label} to show:', { label: table.label })} ` : ', ',
      ...questionParts(sides, comparison, answers[at] ?? null, titles, `answer-${at}`, (value) => answer(at, value)),
    ],
  );
  return <Sentence parts={[...parts, '.']} />;
}

/** What a view by its number asks each time; nothing where it is not there, which its records say themselves. */
export function AskedOfView({ table, view }: { readonly table: TableDefinition; readonly view: number }) {
  const filter = useViews(table.id).views?.find((one) => one.id === view)?.filter;
  return filter ? <AskedValues table={table} filter={filter} /> : null;
}
