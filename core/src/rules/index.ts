export {
  breaks,
  type Demand,
  type Example,
  exampleReader,
  exampleSchema,
  expressionSchema,
  type Rule,
  type RuleReader,
  ruleSchema,
} from './rule.ts';
