export {
  type FormDefinition,
  type FormField,
  formDefinitionSchema,
  formFields,
  type PublicPage,
  publicPageSchema,
  type Section,
} from './form.ts';
export { generateForm, placeField } from './generate.ts';
export { definitionProblems, type PreparedField, type PreparedForm, prepareForm } from './prepare.ts';
