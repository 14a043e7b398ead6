import type { ListedPage, ListedRecord } from '@fiche/core/api';
import { type LaneParent, type LaneSettings, laneParents } from '@fiche/core/calendar';
import { isLinking, type Value } from '@fiche/core/fields';
import { findField, linkedTable, type TableDefinition } from '@fiche/core/tables';
import { AS_LIST, columnAt, type Listing, listedText } from '@fiche/core/views';
import { useQuery } from '@tanstack/react-query';
import { useMemo } from 'react';
import { send, useOffice } from '../client/index.ts';
import type { PeriodForm } from './usePeriodForm.ts';

/** One lane: a record that others link to. */
export interface Lane {
  readonly id: number;
  readonly title: string;
  /** What stands beside its name. */
  readonly facts: string;
  /** What the fields of a record become that follow it into this lane. */
  readonly follow: readonly { readonly field: string; readonly value: Value; readonly title: string | null }[];
}

/** A lane in words that tell it from others of the same name: `A-1, Gannet Quay · 8 m`. */
export const laneWords = ({ title, facts }: Lane): string => (facts === '' ? title : `${title}, ${facts}`);

const PAGE = 200;
/** More lanes than these are no overview. */
export const MOST_LANES = 2_000;

const followed = (record: ListedRecord, path: string): { value: Value; title: string | null } =>
  record.behind[path] ?? { value: record.values[path] ?? null, title: record.linked[path]?.title ?? null };

/** The records of the linked table that get lanes, by what they link to among what stands beside them, then by name; `more` where there are more than `MOST_LANES`. */
export function useLanes(
  table: TableDefinition,
  settings: LaneSettings,
  { prepared }: PeriodForm,
  asOf: string | undefined,
) {
  const { tables } = useOffice();
  const target = tables.get(linkedTable(findField(table, settings.lane)) ?? '');
  const following = useMemo(
    (): readonly LaneParent[] =>
      laneParents(settings.lane, (field) => prepared.fields.get(field)?.narrowing.where ?? null).filter(
        ({ field, path }) => prepared.fields.has(field) && target && columnAt(tables, target.id, path),
      ),
    [settings.lane, prepared, target, tables],
  );
  const paths = [...new Set([...settings.facts, ...following.map((one) => one.path)])];
  const listing: Listing = {
    columns: (paths.length > 0 ? paths : (target?.fields.slice(0, 1).map((one) => one.id) ?? [])).map((path) => ({
      path,
    })),
    filter: settings.where,
    sort: [],
    group: null,
    frozen: 0,
    shown: AS_LIST,
  };
  const query = useQuery({
    queryKey: ['records', target?.id, 'lanes', listing, asOf],
    queryFn: async ({ signal }) => {
      const found: ListedRecord[] = [];
      let after: string | null = null;
      do {
        const page: ListedPage = await send<ListedPage>(
          'POST',
          `/api/tables/${target?.id}/rows`,
          { listing, limit: PAGE, ...(after === null ? {} : { after }), ...(asOf ? { asOf } : {}) },
          {},
          signal,
        );
        found.push(...page.records);
        after = page.after;
      } while (after !== null && found.length < MOST_LANES);
      return { found, more: after !== null };
    },
    enabled: target !== undefined,
    placeholderData: (before) => before,
  });
  const lanes = useMemo(() => {
    if (!query.data || !target) return undefined;
    const collator = new Intl.Collator(undefined, { numeric: true });
    const factsOf = (record: ListedRecord): string =>
      settings.facts
        .flatMap((path) => {
          const column = columnAt(tables, target.id, path);
          const text = column ? listedText(record, column) : '';
          return text === '' ? [] : [text];
        })
        .join(' · ');
    const linked = settings.facts.filter((path) => isLinking(columnAt(tables, target.id, path)?.field));
    const among = (record: ListedRecord): string => linked.map((path) => followed(record, path).title ?? '').join(' ');
    return (
      query.data.found
        .map((record) => ({ record, among: among(record) }))
        // What links to the same stands together.
        .sort((a, b) => collator.compare(a.among, b.among) || collator.compare(a.record.title, b.record.title))
        .map(
          ({ record }): Lane => ({
            id: record.id,
            title: record.title,
            facts: factsOf(record),
            follow: following.map(({ field, path }) => ({ field, ...followed(record, path) })),
          }),
        )
    );
  }, [query.data, target, settings.facts, following, tables]);
  return { target, lanes, more: query.data?.more === true, error: query.error };
}
