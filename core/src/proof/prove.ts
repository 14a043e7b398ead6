import { type DefinedForm, type Enclosure, isWhole, lineForm, prepareForm, subformsOf } from '../forms/index.ts';
import type { Tables } from '../tables/index.ts';
import { calculations } from './calculations.ts';
import { comparisons } from './comparisons.ts';
import { disclosure } from './disclosure.ts';
import { empty } from './empty.ts';
import { examples } from './examples.ts';
import { fillMisfits } from './fillMisfits.ts';
import type { Check, Finding } from './finding.ts';
import { forgottenAncestor } from './forgottenAncestor.ts';
import { goneFields } from './goneFields.ts';
import { hiddenRequired } from './hiddenRequired.ts';
import { labels } from './labels.ts';
import { loops } from './loops.ts';
import { readsLater } from './readsLater.ts';
import { requiredSource } from './requiredSource.ts';
import { subforms } from './subforms.ts';
import { unreadablePatterns } from './unreadablePatterns.ts';

/** The checks of a form’s definition, in the order in which their findings are listed. A new one is a file and a line. */
export const PROOF: readonly Check[] = [
  goneFields,
  empty,
  comparisons,
  fillMisfits,
  calculations,
  loops,
  requiredSource,
  hiddenRequired,
  examples,
  forgottenAncestor,
  readsLater,
  labels,
  subforms,
  unreadablePatterns,
  disclosure,
];

/**
 * Proofs a form’s definition against its tables: everything that is wrong with it (`must`) or worth a look. `now` is
 * the civil moment that examples mean by today.
 */
export function prove(definition: DefinedForm, tables: Tables, now: string): Finding[] {
  const found = proveForm(definition, tables, now);
  return [...found.filter((one) => one.weight === 'must'), ...found.filter((one) => one.weight === 'look')];
}

function proveForm(definition: DefinedForm, tables: Tables, now: string, enclosure?: Enclosure): Finding[] {
  const table = tables.get(definition.table);
  if (!table)
    return [
      {
        rule: 'table',
        weight: 'must',
        path: 'table',
        message: 'The table of this form is not there any more.',
        why: 'There is nothing to write to.',
      },
    ];
  const examined = { definition, tables, table, form: prepareForm(definition, tables, enclosure), now };
  const inLines = subformsOf(definition).flatMap((subform) =>
    isWhole(subform, table.id, tables)
      ? proveForm({ ...lineForm(subform, tables), page: definition.page }, tables, now, {
          table,
          link: subform.link,
        }).map((one) => ({ ...one, path: `${subform.id}/${one.path}` }))
      : [],
  );
  return [...PROOF.flatMap((check) => check(examined)), ...inLines];
}
