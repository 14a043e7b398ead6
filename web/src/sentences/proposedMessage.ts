import { operatorWords } from '@fiche/core/conditions';
import { say } from '@fiche/core/languages';
import type { Rule } from '@fiche/core/rules';
import { typeOf } from '@fiche/core/tables';
import { operandWords, type Sides, sideAt } from './sides.ts';

/** What a rule says while nobody has written a message of their own: it follows the sentence. */
export function proposedMessage({ must, at }: Rule, sides: Sides): string {
  const label = sideAt(sides.left, { kind: 'form', path: at })?.label ?? at;
  if (must.kind !== 'compare') return say('Check {label}.', { label });
  const left = sideAt(sides.left, must.left);
  const words = operatorWords(must.operator, left ? typeOf(left.field).family : 'text').replace(
    /^is /,
    `${say('must be')} `,
  );
  const other = 'right' in must ? ` ${operandWords(sides, must.right, left)}` : '';
  return `${left?.label ?? label} ${words.replace(`${say('must be not')} `, `${say('must not be')} `)}${other}.`;
}
