import { isBlank, type Problem, type Value } from '../fields/index.ts';
import { say } from '../languages/index.ts';
import { type FieldDefinition, typeOf } from './table.ts';

/** What is wrong with one field's own value: required, then the limits of its type. */
export function checkField(field: FieldDefinition, value: Value, required: boolean, label = field.label): Problem[] {
  if (isBlank(value))
    return required
      ? [
          {
            path: field.id,
            rule: 'required',
            message: say('{label} is required. {todo}', {
              label,
              todo: typeOf(field).whenBlank?.() ?? say('Fill it in.'),
            }),
          },
        ]
      : [];
  return typeOf(field)
    .check(value, field.settings)
    .map((found) => ({ path: field.id, ...found }));
}
