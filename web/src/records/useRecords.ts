import type { ListedPage, ListedRecord } from '@fiche/core/api';
import type { TableId } from '@fiche/core/tables';
import type { Listing } from '@fiche/core/views';
import { useQueries, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { send } from '../client/index.ts';
import type { RecordFilter } from './recordFilter.ts';

/** Records that are asked for at once. */
const PAGE = 100;

/** Which rows of a list are in sight, and whether it is still being scrolled. */
export interface Sight {
  readonly first: number;
  readonly last: number;
  readonly moving: boolean;
}

/**
 * The records of a table that a listing and a filter leave. Pages are read as they come into sight: after the page before
 * where that is known, and by their place where somebody has dragged to the middle of the list, once the list rests there.
 */
export function useRecords(
  table: TableId,
  listing: Listing,
  { search, archived, asOf }: RecordFilter,
  linking: string | undefined,
) {
  const client = useQueryClient();
  const [{ first, last, moving }, setSight] = useState<Sight>({ first: 0, last: 0, moving: false });
  // Widths are how a list is drawn: they are no other list.
  const asked = {
    columns: listing.columns.map(({ width: _width, ...column }) => column),
    filter: listing.filter,
    sort: listing.sort,
    group: listing.group,
  };
  const keyOf = (page: number) => ['records', table, asked, search, archived, linking, page, asOf];
  const known = (page: number) => client.getQueryData<ListedPage>(keyOf(page));
  const ask = (page: number, early: boolean, signal: AbortSignal): Promise<ListedPage> => {
    const after = page > 0 ? known(page - 1)?.after : undefined;
    const place = after ? { after } : page > 0 ? { at: page * PAGE } : {};
    const which = {
      listing: asked,
      search,
      archived,
      limit: PAGE,
      ...(linking ? { linking } : {}),
      ...(asOf ? { asOf, early } : {}),
    };
    return send<ListedPage>('POST', `/api/tables/${table}/rows`, { ...which, ...place }, {}, signal);
  };
  const read = (page: number) => ({
    queryKey: keyOf(page),
    queryFn: ({ signal }: { signal: AbortSignal }) => ask(page, page === 0, signal),
  });
  const begin = useQuery({ ...read(0), placeholderData: (before: ListedPage | undefined) => before });
  // Of a moment of the past the first records can come before all are read: the whole takes their place.
  const isEarly = begin.data?.total === null && !begin.isPlaceholderData;
  const whole = useQuery({
    queryKey: [...keyOf(0), 'whole'],
    queryFn: async ({ signal }) => client.setQueryData(keyOf(0), await ask(0, false, signal)) ?? null,
    enabled: isEarly,
    staleTime: 0,
    gcTime: 0,
  });
  const total = begin.data?.total ?? begin.data?.records.length ?? 0;
  const [from, to] = [Math.floor(first / PAGE), Math.floor(Math.min(last + PAGE / 2, total - 1) / PAGE)];
  const wanted: number[] = [];
  // What is placeheld shows the list before: the pages after its first one are of another list.
  if (!begin.isPlaceholderData)
    for (let page = Math.max(1, from); page <= to; page++)
      if (known(page) || known(page - 1)?.after || !moving) wanted.push(page);
  const pages = useQueries({ queries: wanted.map(read) });
  const failed = [begin, whole, ...pages].find((one) => one.isError);
  return {
    /** The record at a place from 0; undefined while it is being read. */
    recordAt: (at: number): ListedRecord | undefined =>
      at < PAGE ? begin.data?.records[at] : known(Math.floor(at / PAGE))?.records[at % PAGE],
    /** The records at some places, also where they are not in sight, for as long as there are such. */
    readRecords: async (places: readonly number[]): Promise<readonly ListedRecord[]> => {
      for (const page of new Set(places.map((at) => Math.floor(at / PAGE))))
        await client.fetchQuery({ ...read(page), staleTime: 30_000 });
      return places.flatMap((at) => known(Math.floor(at / PAGE))?.records[at % PAGE] ?? []);
    },
    onSight: (next: Sight): void =>
      setSight((now) =>
        now.first === next.first && now.last === next.last && now.moving === next.moving ? now : next,
      ),
    known: begin.data !== undefined,
    total,
    /** Whether `total` is of all records: else only the first ones are there yet. */
    counted: begin.data?.total !== null,
    summaries: begin.data?.summaries ?? {},
    /** The groups of a list that is grouped, in order. */
    groups: begin.data?.groups ?? null,
    fetching: begin.isFetching || whole.isFetching || pages.some((one) => one.isFetching),
    problem: failed?.error?.message,
  };
}
