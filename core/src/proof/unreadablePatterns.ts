import { patternMisfit } from '../fields/index.ts';
import { formFields } from '../forms/index.ts';
import { say } from '../languages/index.ts';
import { findField } from '../tables/index.ts';
import { type Check, called } from './finding.ts';

/** Patterns of an older version that cannot be matched in linear time: they refuse nothing any more. */
export const unreadablePatterns: Check = (examined) =>
  formFields(examined.definition).flatMap(({ field: id }) => {
    const pattern = findField(examined.table, id)?.settings.pattern;
    const wrong = typeof pattern === 'string' ? patternMisfit(pattern) : undefined;
    return wrong === undefined
      ? []
      : [
          {
            rule: 'pattern',
            weight: 'must' as const,
            path: id,
            message: say('The pattern of {examined} cannot be read. {wrong}', {
              examined: called(examined, id),
              wrong,
            }),
            why: say('It lets every text through.'),
          },
        ];
  });
