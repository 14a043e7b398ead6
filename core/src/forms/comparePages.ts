import { say } from '../languages/index.ts';
import { pageWords, translationDifferences } from '../pages/index.ts';
import type { Tables } from '../tables/index.ts';
import type { DefinedForm } from './form.ts';
import { wordDifferences } from './wordDifferences.ts';
import { labelAt } from './words.ts';

/** What is set of the public page in one version and not in the other, in words. */
export function pageDifferences(before: DefinedForm, after: DefinedForm, tables: Tables): string[] {
  const wordsOf = ({ page, table }: DefinedForm): string[] =>
    page ? pageWords(page, (field) => labelAt(tables, table, field)) : [];
  return [
    ...wordDifferences(wordsOf(before), wordsOf(after), say('Its public page now'), say('Its public page no longer')),
    ...translationDifferences(before.page?.translations, after.page?.translations),
  ];
}
