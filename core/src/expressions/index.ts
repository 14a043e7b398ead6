export { type Expression, readExpression } from './expression.ts';
