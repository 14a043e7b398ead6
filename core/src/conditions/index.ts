export {
  all,
  type Comparison,
  type Condition,
  comparisonSchema,
  conditionSchema,
  EVERYTHING,
  type Group,
  groupSchema,
  is,
  mapOperands,
  OPERATORS,
  type Operand,
  type Operator,
  operandSchema,
  operandsOf,
  pathSchema,
  pathsOf,
} from './condition.ts';
export { holds, type Reader } from './evaluate.ts';
export { operatorsFor, operatorWords } from './sentence.ts';
