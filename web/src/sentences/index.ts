import './sentences.css';

export { ConditionSentences, type ConditionSentencesProps } from './ConditionSentences.tsx';
export { ExpressionEditor } from './ExpressionEditor.tsx';
export { newRule } from './newRule.ts';
export { RuleSentence } from './RuleSentence.tsx';
export { type Around, aroundOf, formSides, narrowingSides, type Side, type Sides, sidesOf } from './sides.ts';
