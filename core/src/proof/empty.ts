import { formFields } from '../forms/index.ts';
import { say } from '../languages/index.ts';
import type { Check } from './finding.ts';

/** A form without fields. */
export const empty: Check = ({ definition, table }) =>
  formFields(definition).some((one) => table.fields.some((field) => field.id === one.field))
    ? []
    : [
        {
          rule: 'empty',
          weight: 'must',
          path: 'sections',
          message: say('The form has no fields yet. Add one.'),
          why: say('There would be nothing to fill in.'),
        },
      ];
