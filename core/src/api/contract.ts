import type { z } from 'zod';

/** What a role may do in a cabinet. */
export const RIGHTS = ['see', 'add', 'change', 'archive', 'history', 'ledger', 'build', 'people', 'erase'] as const;
export type Right = (typeof RIGHTS)[number];

/** Who may call a route: anybody, any signed-in account, or an account with a right in the route's cabinet. */
type Need = 'nobody' | 'account' | Right;

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
  readonly query: Q;
  readonly body: B;
  readonly answer: A;
}

export const contract = <Q extends z.ZodType, B extends z.ZodType, A extends z.ZodType>(
  one: Contract<Q, B, A>,
): Contract<Q, B, A> => one;

/** RFC 9457 problem document with Fiche's `errors`. */
export interface ProblemDocument {
  readonly type: 'about:blank';
  readonly title: string;
  readonly status: number;
  readonly detail: string;
  readonly errors: readonly { path: string; rule: string; message: string }[];
  /** With 409 on a record: the record as somebody else has saved it meanwhile. */
  readonly current?: unknown;
}
