import type { Constraint } from '@fiche/core/tables';
import { atMost } from './atMost.ts';
import type { ConstraintSql } from './kind.ts';
import { noOverlap } from './noOverlap.ts';
import { unique } from './unique.ts';

const KINDS: { readonly [K in Constraint['kind']]: unknown } = { unique, noOverlap, atMost };

/** How the database holds a kind of rule; only ever given rules of that kind. */
export const constraintSql = ({ kind }: Constraint): ConstraintSql => KINDS[kind] as ConstraintSql;
