export { type Expression, type LinesOf, type Result, readExpression, type Unreadable } from './expression.ts';
export { FUNCTION_HELP, type FunctionHelp } from './functions.ts';
export { giveResult, resultMisfit } from './result.ts';
