export { type Difference, differences } from './compare.ts';
export { expressionOver, type PreparedRule, pathsOfField, prepareRule, rootOf } from './dependencies.ts';
export {
  type FormDefinition,
  type FormField,
  formDefinitionSchema,
  formFields,
  type Item,
  isField,
  itemKey,
  type PublicPage,
  type Section,
} from './form.ts';
export { type Generated, generateForm, placeField } from './generate.ts';
export { type PreparedField, type PreparedForm, prepareForm } from './prepare.ts';
export { familyAt, labelAt, type Naming, namesOf, ruleWords } from './words.ts';
