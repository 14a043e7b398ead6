import type { DefinedForm } from '@fiche/core/forms';
import { say } from '@fiche/core/languages';
import { civilNow } from '@fiche/core/office';
import type { Finding } from '@fiche/core/proof';
import { prove } from '@fiche/core/proof';
import { prepareRipple } from '@fiche/core/ripples';
import type { TableDefinition, Tables } from '@fiche/core/tables';
import type { Definitions } from '../definitions/index.ts';
import { Refusal } from '../http/index.ts';

const mustsOf = (form: DefinedForm, tables: Tables): Finding[] =>
  prove(form, tables, civilNow()).filter((one) => one.weight === 'must');

/** What stands against each ripple, by table and ripple. */
const brokenRipples = (tables: Tables): Map<string, string> =>
  new Map(
    [...tables.values()].flatMap((table) =>
      (table.ripples ?? []).flatMap((ripple): [string, string][] => {
        const prepared = prepareRipple(ripple, table, tables);
        return 'problems' in prepared
          ? [[`${table.id} ${ripple.id}`, `Ripple ${ripple.label} of ${table.label}: ${prepared.problems[0]?.message}`]]
          : [];
      }),
    ),
  );

/** Refuses a change of a table after which a ripple could no longer run. Throws 409. */
function checkRipplesRun(tables: Tables, after: Tables): void {
  const before = brokenRipples(tables);
  const [broken] = [...brokenRipples(after)].filter(([id]) => !before.has(id));
  if (broken)
    throw new Refusal(
      409,
      say('A ripple would not work any more. {broken} Change the ripple first.', { broken: broken[1] }),
    );
}

/**
 * Refuses a change of a table that would break a form that people are filling: its narrowing, fills, rules or fields,
 * also where the form is over another table and only reads this one; or that would show strangers more of it than the
 * builder of a public page has confirmed. Throws 409.
 */
export function checkLiveForms(tables: Tables, forms: Definitions['forms'], changed: TableDefinition): void {
  const after = new Map(tables).set(changed.id, changed);
  checkRipplesRun(tables, after);
  const broken = [...forms.values()].flatMap(({ live }) => {
    if (!live) return [];
    const before = new Set(mustsOf(live, tables).map((one) => one.message));
    const [problem] = mustsOf(live, after).filter((one) => !before.has(one.message));
    return problem ? [{ ...problem, message: `${live.label}: ${problem.message}` }] : [];
  });
  if (broken.length === 0) return;
  const what = broken.every((one) => one.rule === 'disclosure')
    ? say('A public page would tell more than its builder has confirmed.')
    : say('A published form would not work any more.');
  const first = broken.slice(0, 3).map((one) => one.message);
  throw new Refusal(409, say('{what} {list} Change the form first.', { what, list: first.join(' ') }));
}
