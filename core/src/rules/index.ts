export { brokenRule, type Rule, ruleSchema } from './rule.ts';
