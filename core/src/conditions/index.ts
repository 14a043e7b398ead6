export { type AskedAnswers, answersSchema, type Question, questionsOf, withAnswers } from './asked.ts';
export {
  all,
  type Comparison,
  type Condition,
  calculationSchema,
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
export { dayFrom, holds, judge, type Reader } from './evaluate.ts';
export { dayWords, describeCondition, type Names, operatorsFor, operatorWords, otherSide } from './sentence.ts';
