export {
  type Expression,
  type LinesOf,
  loadExpressions,
  type Result,
  readExpression,
} from './expression.ts';
export { FUNCTION_HELP, type FunctionHelp } from './functions.ts';
export { acceptLabels } from './labels.ts';
export { giveResult, resultMisfit } from './result.ts';
export type { Unreadable } from './unreadable.ts';
