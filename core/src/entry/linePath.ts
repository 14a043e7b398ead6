import type { FieldId } from '../tables/index.ts';
import type { LineAddress } from './state.ts';

/** Where something is in a line: `services_used[l3].quantity`. */
export const linePath = ({ subform, key }: LineAddress, field: FieldId): string => `${subform}[${key}].${field}`;

/** The line and the place in it that a path names; undefined for a path of the form itself. */
export function splitPath(path: string): { readonly line: LineAddress; readonly path: string } | undefined {
  const found = /^([a-z][a-z0-9_]*)\[(\w{1,20})\]\.(.*)$/.exec(path);
  return found ? { line: { subform: found[1] ?? '', key: found[2] ?? '' }, path: found[3] ?? '' } : undefined;
}
