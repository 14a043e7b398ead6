import { say } from '@fiche/core/languages';
import { formatCount } from '@fiche/core/office';
import type { TableDefinition } from '@fiche/core/tables';
import { type Listing, periodSettings } from '@fiche/core/views';
import { Link } from 'react-router-dom';
import { useOffice } from '../client/index.ts';
import { textCss } from '../parts/index.ts';
import calendarCss from './calendar.module.css';
import { nameOf, timeText } from './periodText.ts';
import { usePeriods } from './usePeriods.ts';

interface ComingPeriodsProps {
  readonly table: TableDefinition;
  /** A listing that is shown as a calendar or as lanes. */
  readonly listing: Listing;
  readonly days: { readonly from: string; readonly to: string };
  /** Where all of it is. */
  readonly address: string;
}

const SHOWN = 5;

/** What lies in some days, the first ones by name: a calendar or lanes in a small card. */
export function ComingPeriods({ table, listing, days, address }: ComingPeriodsProps) {
  const { cabinet } = useOffice();
  const query = usePeriods(table.id, listing, days, {});
  const settings = periodSettings(listing.shown);
  if (query.isError) return <p className={textCss.problem}>{query.error.message}</p>;
  if (!query.data || !settings) return null;
  const { periods, more } = query.data;
  const path = settings.form === null ? `/${cabinet.id}/tables/${table.id}` : `/${cabinet.id}/forms/${settings.form}`;
  return (
    <ul className={calendarCss.coming}>
      {periods.slice(-SHOWN).map((period) => (
        <li key={period.id}>
          <Link to={`${path}/${period.id}`}>{nameOf(period)}</Link>{' '}
          <span className={textCss.faded}>{timeText(period, settings.end !== null)}</span>
        </li>
      ))}
      <li>
        <Link to={address}>
          {periods.length === 0
            ? say('No {label} today', { label: table.label })
            : say('{count}{more} today', {
                count: formatCount(periods.length),
                more: more ? ` ${say('and more')}` : '',
              })}
        </Link>
      </li>
    </ul>
  );
}
