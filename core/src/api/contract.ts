import type { z } from 'zod';
import { ACTIONS, CABINET_RIGHTS } from '../rights/index.ts';

/** What a role may do in a cabinet, or with the records of one of its tables. */
export const RIGHTS = [...ACTIONS, 'history', ...CABINET_RIGHTS] as const;
export type Right = (typeof RIGHTS)[number];

/**
 * Who may call a route: anybody, any signed-in account, or an account with a right in the route's cabinet; where the route
 * names a table or a form, with the right to that table. `fill` is the right to see or to add.
 */
export type Need = 'nobody' | 'account' | 'fill' | Right;

/** One route of the HTTP interface: both sides take their types, and the server its checks, from here. */
export interface Contract<
  Q extends z.ZodType = z.ZodType,
  B extends z.ZodType = z.ZodType,
  A extends z.ZodType = z.ZodType,
> {
  readonly method: 'GET' | 'POST' | 'PUT' | 'PATCH' | 'DELETE';
  /** With `{name}` for each parameter, as in OpenAPI. */
  readonly path: string;
  readonly summary: string;
  readonly needs: Need;
  /** A question that is sent by POST, and writes nothing. */
  readonly reads?: true;
  /** The answer is long and travels far: it is compressed where the caller takes that. */
  readonly compressed?: true;
  readonly query: Q;
  readonly body: B;
  readonly answer: A;
}

export const contract = <Q extends z.ZodType, B extends z.ZodType, A extends z.ZodType>(
  one: Contract<Q, B, A>,
): Contract<Q, B, A> => one;

/** The records of a destination of a form that have its key, as the caller sees them, the newest first. */
export interface SeveralRecords {
  readonly destination: string;
  /** The label of their table. */
  readonly label: string;
  readonly records: readonly {
    readonly id: number;
    readonly title: string;
    readonly values: readonly { readonly label: string; readonly value: string }[];
  }[];
}

/** RFC 9457 problem document with Fiche's `errors`. */
export interface ProblemDocument {
  readonly type: 'about:blank';
  readonly title: string;
  readonly status: number;
  readonly detail: string;
  readonly errors: readonly { path: string; rule: string; message: string; asks?: true | undefined }[];
  /** With 409 on a record: the record as somebody else has saved it meanwhile. */
  readonly current?: unknown;
  /** With 422 on an entry: the records of a destination that have its key, one of which is sent as `meant`. */
  readonly several?: SeveralRecords;
}
