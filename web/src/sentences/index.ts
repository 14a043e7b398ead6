export { questionParts } from './answerSlot.ts';
export { ConditionSentences, type ConditionSentencesProps } from './ConditionSentences.tsx';
export { ExpressionEditor } from './ExpressionEditor.tsx';
export { ExpressionSlot } from './ExpressionSlot.tsx';
export { NewRule } from './NewRule.tsx';
export { narrowedByWords } from './narrowedByWords.ts';
export { RuleSentence } from './RuleSentence.tsx';
export {
  type Around,
  aroundOf,
  constantsFor,
  formSides,
  narrowingSides,
  type Side,
  type Sides,
  sidesOf,
} from './sides.ts';
export { useRecordTitles } from './useRecordTitles.ts';
