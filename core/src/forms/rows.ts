import { arrange } from '../wiring/index.ts';
import type { Subform } from './form.ts';
import type { PreparedForm } from './prepared.ts';

/** The name under which `rowsOf` has the rows. */
export const ROWS = 'rows';

/**
 * A form whose lines are the records of another: what fills many of them as rows. Each row is saved by itself, as the
 * other form saves a card.
 */
export function rowsOf(form: PreparedForm): PreparedForm {
  const definition: Subform = {
    kind: 'subform',
    id: ROWS,
    table: form.table.id,
    link: '',
    label: null,
    as: 'rows',
    least: null,
    most: null,
    shownWhen: null,
    fields: [],
    rules: [],
  };
  const { label } = form.definition;
  const rows = {
    id: ROWS,
    label,
    definition,
    form,
    shownWhen: null,
    enclosing: new Set<string>(),
    ordered: false,
    columns: [],
  };
  const wiring = arrange([ROWS], []);
  return { ...form, fields: new Map(), rules: [], readers: new Map(), wiring, subforms: new Map([[ROWS, rows]]) };
}
