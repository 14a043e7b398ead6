import { formFields } from '../forms/index.ts';
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
          message: 'The form has no fields yet. Add one.',
          why: 'There would be nothing to fill in.',
        },
      ];
