import { partsOf, type Writing } from './destination.ts';

/**
 * The records that a form writes in an order in which each comes after those that its links point at; the circle where there
 * is no such order.
 */
export function writingOrder(
  writing: Writing,
): { readonly order: readonly string[] } | { readonly circle: readonly string[] } {
  const links = writing.destinations?.links ?? [];
  const order: string[] = [];
  const open: string[] = [];
  const visit = (part: string): string[] | undefined => {
    if (order.includes(part)) return undefined;
    if (open.includes(part)) return [...open.slice(open.indexOf(part)), part];
    open.push(part);
    for (const { of, to } of links) {
      const circle = of === part ? visit(to) : undefined;
      if (circle) return circle;
    }
    open.pop();
    order.push(part);
    return undefined;
  };
  for (const part of partsOf(writing)) {
    const circle = visit(part);
    if (circle) return { circle };
  }
  return { order };
}
