import { type AskedAnswers, type Comparison, operatorWords } from '@fiche/core/conditions';
import { say } from '@fiche/core/languages';
import { targetTable } from '@fiche/core/tables';
import type { Phrase } from '../parts/index.ts';
import { familyOfSide, operandWords, readKey, rightOptions, type Sides, sideAt, typedOptions } from './sides.ts';

const ANY = 'any';

const isConstant = ({ value }: { readonly value: string }): boolean => readKey(value).kind === 'constant';

/** A question of a view as words, with a slot for its answer: a value, or none. `titles` are those of the records that answers name. */
export function questionParts(
  sides: Sides,
  { left: asked, operator }: Comparison,
  value: AskedAnswers[number],
  titles: ReadonlyMap<string, string>,
  key: string,
  onAnswer: (value: AskedAnswers[number]) => void,
): Phrase {
  const left = sideAt(sides.left, asked, sides.tables);
  const title = value === null ? undefined : titles.get(`${targetTable(left?.field)} ${value}`);
  const offered = left ? rightOptions({ ...sides, right: [] }, left, operator).filter(isConstant) : [];
  return [
    `${operandWords(sides, asked, left)} ${operatorWords(operator, familyOfSide(left))} `,
    {
      key,
      label: say('{label} to show', { label: left?.label ?? 'value' }),
      shown: value === null ? 'any' : operandWords(sides, { kind: 'constant', value }, left, title),
      pick: {
        kind: 'options',
        current: value === null ? ANY : JSON.stringify({ kind: 'constant', value }),
        options: [{ value: ANY, label: say('any'), detail: say('leaves this condition out') }, ...offered],
        typed: left ? async (text) => (await typedOptions(sides, left, text)).filter(isConstant) : undefined,
      },
      onSet: (picked) => {
        const operand = picked === ANY ? undefined : readKey(picked);
        onAnswer(operand?.kind === 'constant' ? operand.value : null);
      },
    },
  ];
}
