import { dayFrom } from '../conditions/index.ts';
import type { PreparedRule } from '../forms/index.ts';
import { say } from '../languages/index.ts';
import { breaks, type Example, exampleReader } from '../rules/index.ts';
import type { Check, Examined, Finding } from './finding.ts';

/** Whether a rule says of an example what the example says that it should. */
export function exampleHolds(rule: PreparedRule, example: Example, now: string): boolean {
  const broken = breaks(rule, {
    operand: exampleReader(example.values, null, (operand) => dayFrom(now, operand)),
    expression: () => rule.expression?.evaluate((path) => example.values[path] ?? null, now) ?? null,
  });
  return broken !== example.passes;
}

/** Examples kept with a rule that it does not decide as they say. */
export const examples: Check = ({ form, now }: Examined) =>
  form.rules.flatMap((rule) =>
    rule.examples.flatMap((example, at): Finding[] =>
      exampleHolds(rule, example, now)
        ? []
        : [
            {
              rule: 'example',
              weight: 'must',
              path: rule.at,
              message: say('Example {at} of the rule “{message}” should {passes}. Mend the rule or the example.', {
                at: at + 1,
                message: rule.message,
                passes: example.passes ? say('pass, and is refused') : say('be refused, and passes'),
              }),
              why: say('The rule does not do what it was meant to do.'),
            },
          ],
    ),
  );
