import { isBlank, type Problem, type Value } from '../fields/index.ts';
import { type FieldDefinition, typeOf } from './table.ts';

/** What is wrong with one field's own value: required, then the limits of its type. */
export function checkField(field: FieldDefinition, value: Value, required: boolean, label = field.label): Problem[] {
  if (isBlank(value))
    return required ? [{ path: field.id, rule: 'required', message: `${label} is required. ${askFor(field)}` }] : [];
  return typeOf(field)
    .check(value, field.settings)
    .map((found) => ({ path: field.id, ...found }));
}

function askFor(field: FieldDefinition): string {
  if (field.type === 'attachments') return 'Add a file.';
  switch (typeOf(field).family) {
    case 'link':
    case 'links':
    case 'choices':
      return 'Choose one.';
    case 'yesNo':
      return 'Say yes or no.';
    default:
      return field.type === 'choice' ? 'Choose one.' : 'Fill it in.';
  }
}
