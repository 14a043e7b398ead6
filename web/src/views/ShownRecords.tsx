import { all, type Group } from '@fiche/core/conditions';
import { say } from '@fiche/core/languages';
import { dayAfter } from '@fiche/core/office';
import { findField, type TableDefinition, typeOf } from '@fiche/core/tables';
import { type Listing, periodSettings } from '@fiche/core/views';
import { clsx } from 'clsx';
import type { ReactNode } from 'react';
import { useSearchParams } from 'react-router-dom';
import { CalendarView, LanesView } from '../calendar/index.ts';
import { ChartView } from '../charts/index.ts';
import { CheckField, FindInput, pageCss } from '../parts/index.ts';
import { recordFilterOf, useLiveRows, withFilter } from '../records/index.ts';
import listingCss from './listing.module.css';
import { addressOfRecords } from './whereInAddress.ts';

interface ShownRecordsProps {
  readonly table: TableDefinition;
  readonly path: string;
  readonly linking: string | undefined;
  /** What is shown otherwise than as a list, with the answers to what it asks. */
  readonly listing: Listing;
  /** The view that is open, by number and name. */
  readonly view: { readonly id: number; readonly label: string } | undefined;
  readonly before: ReactNode;
  readonly acts: ReactNode;
  readonly filter: ReactNode;
}

/** The records of a listing as a chart, a calendar or lanes, with what can be done with it. */
export function ShownRecords({
  table,
  path,
  linking,
  listing,
  view,
  before,
  acts,
  filter: sentence,
}: ShownRecordsProps) {
  const [address, setAddress] = useSearchParams();
  const filter = { ...recordFilterOf(address), ...(linking ? { linking } : {}) };
  useLiveRows(table.id, filter.asOf !== undefined);
  const addressOf = (where: Group): string => addressOfRecords(path, { view: view?.id, where, address });
  const inTime = listing.shown.as === 'lanes' || listing.shown.as === 'calendar';
  return (
    <>
      <div className={pageCss.tools}>
        {before}
        <FindInput
          label={say('Find in {label}', { label: table.label })}
          value={filter.search}
          onChange={(search) => setAddress((now) => withFilter(now, { search }), { replace: true })}
        />
        <CheckField
          label={say('Archived')}
          checked={filter.archived === 'yes'}
          onChange={(on) => setAddress((now) => withFilter(now, { archived: on ? 'yes' : 'no' }), { replace: true })}
        />
      </div>
      <div className={listingCss.filter}>
        <div>{sentence}</div>
        <span className={listingCss.acts}>{acts}</span>
      </div>
      <div className={clsx(listingCss.shown, inTime && listingCss.fills)}>
        {listing.shown.as === 'chart' && (
          <ChartView {...{ table, listing, filter, addressOf }} {...(view ? { name: view.label } : {})} />
        )}
        {listing.shown.as === 'lanes' && <LanesView {...{ table, listing, filter }} />}
        {listing.shown.as === 'calendar' && (
          <CalendarView {...{ table, listing, filter }} addressOfDay={(day) => addressOf(onDay(table, listing, day))} />
        )}
      </div>
    </>
  );
}

/** The condition under which a record’s period lies on a day. */
function onDay(table: TableDefinition, { shown }: Listing, day: string): Group {
  const settings = periodSettings(shown);
  if (!settings) return all();
  const field = findField(table, settings.start);
  const bound = (of: string): string => (field && typeOf(field).family === 'dateTime' ? `${of}T00:00` : of);
  const compare = (path: string, operator: 'less' | 'atLeast', value: string) =>
    ({ kind: 'compare', left: { kind: 'column', path }, operator, right: { kind: 'constant', value } }) as const;
  const begun = compare(settings.start, 'less', bound(dayAfter(day, 1)));
  const { end } = settings;
  if (end === null) return all(begun, compare(settings.start, 'atLeast', bound(day)));
  const open = { kind: 'compare', left: { kind: 'column', path: end }, operator: 'isBlank' } as const;
  return all(begun, { kind: 'group', match: 'any', of: [compare(end, 'atLeast', bound(day)), open] });
}
