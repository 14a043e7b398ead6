import type { Databases } from './connection.ts';
import { poolsOf } from './connection.ts';

/** A statement that has ended: its text with places for its values, and how long it took, in ms. */
export interface EndedQuery {
  readonly sql: string;
  readonly milliseconds: number;
}

type Observer = (query: EndedQuery) => void;
const observers = new Set<Observer>();

/** Tells all observers of a statement that did not go through the query builder. */
export function noteQuery(sql: string, begun: number): void {
  for (const observer of observers) observer({ sql, milliseconds: performance.now() - begun });
}

/** Tells `observer` of each statement that ends, in the course of the request that asked for it, until the returned function is called. */
export function observeQueries(databases: Databases, observer: Observer): () => void {
  const begun = new Map<string, number>();
  const onBegin = ({ __knexQueryUid: id }: { __knexQueryUid: string }): void => void begun.set(id, performance.now());
  const onEnd = ({ __knexQueryUid: id, sql }: { __knexQueryUid: string; sql: string }): void => {
    const at = begun.get(id);
    begun.delete(id);
    if (at !== undefined) observer({ sql, milliseconds: performance.now() - at });
  };
  const onFailure = (_error: unknown, query: { __knexQueryUid: string; sql: string }): void => onEnd(query);
  const onResponse = (_response: unknown, query: { __knexQueryUid: string; sql: string }): void => onEnd(query);
  const pools = poolsOf(databases);
  for (const one of pools) one.on('query', onBegin).on('query-response', onResponse).on('query-error', onFailure);
  observers.add(observer);
  return () => {
    observers.delete(observer);
    for (const one of pools) one.off('query', onBegin).off('query-response', onResponse).off('query-error', onFailure);
  };
}
