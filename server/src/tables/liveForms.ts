import type { DefinedForm } from '@fiche/core/forms';
import { civilNow } from '@fiche/core/office';
import type { Finding } from '@fiche/core/proof';
import { prove } from '@fiche/core/proof';
import type { TableDefinition, Tables } from '@fiche/core/tables';
import type { Definitions } from '../definitions/index.ts';
import { Refusal } from '../http/index.ts';

const mustsOf = (form: DefinedForm, tables: Tables): Finding[] =>
  prove(form, tables, civilNow()).filter((one) => one.weight === 'must');

/**
 * Refuses a change of a table that would break a form that people are filling: its narrowing, fills, rules or fields,
 * also where the form is over another table and only reads this one; or that would show strangers more of it than the
 * builder of a public page has confirmed. Throws 409.
 */
export function checkLiveForms(tables: Tables, forms: Definitions['forms'], changed: TableDefinition): void {
  const after = new Map(tables).set(changed.id, changed);
  const broken = [...forms.values()].flatMap(({ live }) => {
    if (!live) return [];
    const before = new Set(mustsOf(live, tables).map((one) => one.message));
    const [problem] = mustsOf(live, after).filter((one) => !before.has(one.message));
    return problem ? [{ ...problem, message: `${live.label}: ${problem.message}` }] : [];
  });
  if (broken.length === 0) return;
  const what = broken.every((one) => one.rule === 'disclosure')
    ? 'A public page would tell more than its builder has confirmed.'
    : 'A published form would not work any more.';
  const first = broken.slice(0, 3).map((one) => one.message);
  throw new Refusal(409, `${what} ${first.join(' ')} Change the form first.`);
}
