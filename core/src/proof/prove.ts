import { tablesOfForm } from '../destinations/index.ts';
import {
  type DefinedForm,
  type Enclosure,
  isWhole,
  lineForm,
  linesTable,
  prepareForm,
  subformsOf,
} from '../forms/index.ts';
import { say } from '../languages/index.ts';
import type { Tables } from '../tables/index.ts';
import { calculations } from './calculations.ts';
import { comparisons } from './comparisons.ts';
import { destinations } from './destinations.ts';
import { type Disclosure, disclosure, disclosuresOf } from './disclosure.ts';
import { empty } from './empty.ts';
import { examples } from './examples.ts';
import { fillMisfits } from './fillMisfits.ts';
import type { Check, Examined, Finding } from './finding.ts';
import { forgottenAncestor } from './forgottenAncestor.ts';
import { goneFields } from './goneFields.ts';
import { hiddenRequired } from './hiddenRequired.ts';
import { labels } from './labels.ts';
import { type LevelWord, levelWordsOf } from './levelWords.ts';
import { loops } from './loops.ts';
import { publicPages } from './publicPages.ts';
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
  destinations,
  publicPages,
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

function proveForm(definition: DefinedForm, whole: Tables, now: string, enclosure?: Enclosure): Finding[] {
  const tables = tablesOfForm(definition, whole);
  const table = tables.get(definition.table);
  if (!table)
    return [
      {
        rule: 'table',
        weight: 'must',
        path: 'table',
        message: say('The table of this form is not there any more.'),
        why: say('There is nothing to write to.'),
      },
    ];
  const examined = { definition, tables, table, form: prepareForm(definition, whole, enclosure), now };
  const inLines = linesOf(examined).flatMap(({ id, form, around }) =>
    proveForm(form, tables, now, around).map((one) => ({
      ...one,
      path: `${id}/${one.path}`,
      ...(one.confirm === undefined ? {} : { confirm: `${id}/${one.confirm}` }),
    })),
  );
  return [...PROOF.flatMap((check) => check(examined)), ...inLines];
}

/** The public page as lines see it: what was confirmed of them goes by their name. */
const pageOfLines = ({ page }: DefinedForm, subform: string): DefinedForm['page'] =>
  page && {
    slug: page.slug,
    intro: '',
    thanks: '',
    disclosed: page.disclosed.flatMap((key) => (key.startsWith(`${subform}/`) ? [key.slice(subform.length + 1)] : [])),
  };

/** The forms of a form’s lines, with the record that they stand in. */
const linesOf = ({ definition, table, tables }: Omit<Examined, 'form' | 'now'>) =>
  subformsOf(definition).flatMap((subform) =>
    isWhole(subform, linesTable(definition, subform), tables)
      ? [
          {
            id: subform.id,
            form: { ...lineForm(subform, tables), page: pageOfLines(definition, subform.id) },
            around: { table, link: subform.link, part: subform.of },
          },
        ]
      : [],
  );

/** The words that the conditions of a form and its lines compare with levels of option lists. */
export function levelWords(definition: DefinedForm, whole: Tables, enclosure?: Enclosure): LevelWord[] {
  const tables = tablesOfForm(definition, whole);
  const table = tables.get(definition.table);
  if (!table) return [];
  const examined = { definition, tables, table, form: prepareForm(definition, whole, enclosure), now: '' };
  const inLines = linesOf(examined).flatMap(({ id, form, around }) =>
    levelWords(form, tables, around).map((one) => ({
      ...one,
      finding: { ...one.finding, path: `${id}/${one.finding.path}` },
    })),
  );
  return [...levelWordsOf(examined), ...inLines];
}

/** All that the public page of a form tells strangers, confirmed or not, its lines included. */
export function pageDisclosures(definition: DefinedForm, tables: Tables, enclosure?: Enclosure): Disclosure[] {
  const table = tables.get(definition.table);
  if (!table || definition.page === null) return [];
  const examined = { definition, tables, table, form: prepareForm(definition, tables, enclosure), now: '' };
  const inLines = linesOf(examined).flatMap(({ id, form, around }) =>
    pageDisclosures(form, tables, around).map((one) => ({
      ...one,
      key: `${id}/${one.key}`,
      path: `${id}/${one.path}`,
    })),
  );
  return [...disclosuresOf(examined), ...inLines];
}

/** The form with everything confirmed that its public page tells strangers. */
export const confirmDisclosures = (definition: DefinedForm, tables: Tables): DefinedForm =>
  definition.page
    ? {
        ...definition,
        page: { ...definition.page, disclosed: pageDisclosures(definition, tables).map((one) => one.key) },
      }
    : definition;
