/**
 * What one field does to another: narrows its choices, fills it, shows it, is read by a check that stands at it, or is
 * read by its calculation.
 */
export type EdgeKind = 'narrows' | 'fills' | 'shows' | 'checks' | 'calculates';

export interface Edge {
  readonly kind: EdgeKind;
  readonly from: string;
  readonly to: string;
}

/** The dependencies of a form's fields. */
export interface Wiring {
  readonly edges: readonly Edge[];
  /** The edges that leave each field. */
  readonly from: ReadonlyMap<string, readonly Edge[]>;
  /** The fields such that each comes after all that move it; those in a loop keep their place on the form. */
  readonly order: readonly string[];
  /** The place of each field in `order`. */
  readonly rank: ReadonlyMap<string, number>;
  /** Each loop as the fields along it, beginning and ending with the same one. */
  readonly loops: readonly (readonly string[])[];
}

/** Only these move values, so only they order, and only they can loop; checks read. */
const moves = (edge: Edge): boolean => edge.kind !== 'checks';

/** Orders fields by their dependencies. A field that shows or calculates itself is a loop of one. */
export function arrange(fields: readonly string[], edges: readonly Edge[]): Wiring {
  const from = new Map<string, Edge[]>(fields.map((id) => [id, []]));
  for (const edge of edges) from.get(edge.from)?.push(edge);
  const order: string[] = [];
  const loops: string[][] = [];
  const state = new Map<string, 'open' | 'done'>();
  const trail: string[] = [];
  const visit = (id: string): void => {
    if (state.get(id) === 'done') return;
    if (state.get(id) === 'open') {
      loops.push([...trail.slice(trail.indexOf(id)), id]);
      return;
    }
    state.set(id, 'open');
    trail.push(id);
    for (const edge of from.get(id) ?? [])
      if (moves(edge) && (edge.to !== id || edge.kind === 'shows' || edge.kind === 'calculates')) visit(edge.to);
    trail.pop();
    state.set(id, 'done');
    order.push(id);
  };
  for (const id of [...fields].reverse()) visit(id);
  order.reverse();
  return { edges, from, order, rank: new Map(order.map((id, at) => [id, at])), loops };
}
