/** What one field does to another: narrows its choices, fills it, or is read by a check that stands at it. */
export type EdgeKind = 'narrows' | 'fills' | 'checks';

export interface Edge {
  readonly kind: EdgeKind;
  readonly from: string;
  readonly to: string;
}

/** The dependencies of a form's fields. */
export interface Wiring {
  readonly edges: readonly Edge[];
  /** The fields such that each comes after all that narrow or fill it; those in a loop keep their place on the form. */
  readonly order: readonly string[];
  /** Each loop as the fields along it, beginning and ending with the same one. */
  readonly loops: readonly (readonly string[])[];
}

/**
 * Orders fields by their dependencies. Only narrowing and filling move values, so only they order, and only they can
 * loop; checks read.
 */
export function arrange(fields: readonly string[], edges: readonly Edge[]): Wiring {
  const moving = edges.filter((edge) => edge.kind !== 'checks');
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
    for (const edge of moving) if (edge.from === id && edge.to !== id) visit(edge.to);
    trail.pop();
    state.set(id, 'done');
    order.unshift(id);
  };
  for (const id of [...fields].reverse()) visit(id);
  return { edges, order, loops };
}
