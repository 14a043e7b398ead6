export { type Difference, differences } from './compare.ts';
export {
  ENCLOSING,
  expressionOver,
  prepareRule,
  readsLink,
  rootOf,
} from './dependencies.ts';
export {
  type FeedingUse,
  type FeedingView,
  type FeedingViews,
  feedingWords,
  viewsOfForm,
  withFeedingViews,
  withoutViews,
} from './feeding.ts';
export {
  type DefinedForm,
  formDefinitionSchema,
  formFields,
  type Item,
  isField,
  isSubform,
  itemKey,
  MOST_LINES,
  OPENING_WORDS,
  OPENINGS,
  type PlacedField,
  type Section,
  type Subform,
  subformsOf,
} from './form.ts';
export { type Generated, generateForm, placeField, placeLines } from './generate.ts';
export { type AfterSave, afterSaveOf, SELF, type Start, startsOf } from './nextSteps.ts';
export { prepareForm } from './prepare.ts';
export type { Enclosure, FieldLimits, PreparedField, PreparedForm, PreparedRule, PreparedSubform } from './prepared.ts';
export { inEnclosing } from './prepared.ts';
export { proposeStart } from './proposeStart.ts';
export { ROWS, rowsOf } from './rows.ts';
export {
  AGGREGATE_WORDS,
  AGGREGATES,
  type Aggregate,
  aggregateOf,
  isWhole,
  lineForm,
  linesInto,
  linesTable,
  readLinePath,
  withLineForm,
} from './subform.ts';
export { choiceWords, type PageText, type TextKind, textsOf, withTexts } from './texts.ts';
export { withoutDestinations } from './withoutDestinations.ts';
export { familyAt, labelAt, type Naming, namesOf, ruleWords } from './words.ts';
