import { type Comparison, type Operator, operatorsFor, operatorWords } from '@fiche/core/conditions';
import type { Rule } from '@fiche/core/rules';
import { type FieldDefinition, type Tables, typeOf } from '@fiche/core/tables';
import { type Around, formSides, operandWords, readKey, rightOptions, type Sides, sideAt } from './sides.ts';

/**
 * The rule that is most likely meant at a field: an ordered value is compared with the nearest field before it of its
 * kind, anything else is not to be blank. Its message is proposed from its sentence.
 */
export function newRule(
  kind: Rule['kind'],
  at: FieldDefinition,
  fields: readonly FieldDefinition[],
  tables: Tables,
  around?: Around,
): Rule {
  const sides = formSides(tables, fields, around);
  const left = sideAt(sides.left, { kind: 'form', path: at.id });
  const { family } = typeOf(at);
  const ordered = operatorsFor(family).includes('less');
  const operator: Operator =
    family === 'number' ? 'atMost' : family === 'text' ? 'isNotBlank' : ordered ? 'more' : 'is';
  const [first] = left && operator !== 'isNotBlank' ? rightOptions(sides, left, operator) : [];
  const must: Comparison =
    first && left
      ? ({ kind: 'compare', left: left.operand, operator, right: readKey(first.value) } as Comparison)
      : { kind: 'compare', left: { kind: 'form', path: at.id }, operator: 'isNotBlank' };
  const rule: Rule = {
    id: `r${Date.now().toString(36)}${Math.floor(Math.random() * 1296).toString(36)}`,
    kind,
    when: null,
    must,
    at: at.id,
    message: '',
    examples: [],
  };
  return { ...rule, message: proposedMessage(rule, sides) };
}

/** What a rule says while nobody has written a message of their own: it follows the sentence. */
export function proposedMessage({ must, at }: Rule, sides: Sides): string {
  const label = sideAt(sides.left, { kind: 'form', path: at })?.label ?? at;
  if (must.kind !== 'compare') return `Check ${label}.`;
  const left = sideAt(sides.left, must.left);
  const words = operatorWords(must.operator, left ? typeOf(left.field).family : 'text').replace(/^is /, 'must be ');
  const other = 'right' in must ? ` ${operandWords(sides, must.right, left)}` : '';
  return `${left?.label ?? label} ${words.replace('must be not ', 'must not be ')}${other}.`;
}
