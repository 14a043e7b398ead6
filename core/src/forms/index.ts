export { type Difference, differences } from './compare.ts';
export {
  ENCLOSING,
  type Enclosure,
  expressionOver,
  type PreparedRule,
  pathsOfField,
  prepareRule,
  rootOf,
} from './dependencies.ts';
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
  type PublicPage,
  type Section,
  type Subform,
  subformsOf,
} from './form.ts';
export { type Generated, generateForm, placeField, placeLines } from './generate.ts';
export { type PreparedField, type PreparedForm, type PreparedSubform, prepareForm } from './prepare.ts';
export { ROWS, rowsOf } from './rows.ts';
export {
  isWhole,
  lineForm,
  linesInto,
  readLinePath,
  TAKE_WORDS,
  TAKES,
  type Take,
  takeOf,
  withLineForm,
} from './subform.ts';
export { familyAt, labelAt, type Naming, namesOf, ruleWords } from './words.ts';
