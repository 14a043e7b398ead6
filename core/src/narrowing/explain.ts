import { all, type Condition, EVERYTHING, type Group, operandsOf } from '../conditions/index.ts';
import { isBlank } from '../fields/index.ts';
import type { TableId } from '../tables/index.ts';
import { resolveNarrowing, type Scope } from './resolve.ts';
import { conjuncts } from './source.ts';

/** One condition on a dropdown’s choices, as it stands for an entry now. */
export interface Narrowed {
  /** As it was built. */
  readonly condition: Condition;
  /** With the form’s values put in; it always holds where it narrows nothing. */
  readonly resolved: Condition;
  /** `open`: what it compares with is blank, so it narrows nothing; `through`: a blank parent’s own narrowing counts. */
  readonly state: 'counts' | 'open' | 'through';
}

/** The conditions of a narrowing one by one, in order, with what each means for an entry now. */
export function explainNarrowing(table: TableId, where: Group, scope: Scope): Narrowed[] {
  return conjuncts(where).map((condition) => {
    const resolved = resolveNarrowing(table, all(condition), scope);
    const nothing = JSON.stringify(resolved) === JSON.stringify(EVERYTHING);
    const reads = operandsOf(condition).some((operand) => operand.kind === 'form' || operand.kind === 'enclosing');
    const blank = operandsOf(condition).some((one) => one.kind === 'form' && isBlank(scope.read(one.path)));
    const through = condition.kind === 'compare' && 'right' in condition && blank;
    return { condition, resolved, state: nothing && reads ? 'open' : through ? 'through' : 'counts' };
  });
}
