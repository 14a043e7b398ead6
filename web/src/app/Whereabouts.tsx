import { Fragment } from 'react';
import { Link, useLocation } from 'react-router-dom';
import { useOffice } from '../client/index.ts';

const AREAS: Readonly<Record<string, string>> = {
  desk: 'Desk',
  forms: 'Forms',
  tables: 'Tables',
  ledger: 'Ledger',
  imports: 'Bring a file in',
  cabinets: 'A new cabinet',
  people: 'People',
};

const PLACES: Readonly<Record<string, string>> = { studio: 'Studio', new: 'New record', held: 'Held answers' };

/** Where I am: area › table or form › record. */
export function Whereabouts() {
  const { cabinet } = useOffice();
  const [, , area = '', thing, place] = useLocation().pathname.split('/');
  const named =
    cabinet.forms.find((one) => one.id === thing)?.label ?? cabinet.tables.find((one) => one.id === thing)?.label;
  const last = place === undefined ? undefined : (PLACES[place] ?? 'Record');
  const steps: [string, string | undefined][] = [
    [AREAS[area] ?? '', `/${cabinet.id}/${area}`],
    [named ?? '', `/${cabinet.id}/${area}/${thing}`],
    [last ?? '', undefined],
  ];
  const shown = steps.filter(([label]) => label !== '');
  return (
    <nav className="whereabouts" aria-label="Where I am">
      {shown.map(([label, to], n) => (
        <Fragment key={label}>
          {n > 0 && <span aria-hidden="true"> › </span>}
          {n === shown.length - 1 || to === undefined ? (
            <strong aria-current="page">{label}</strong>
          ) : (
            <Link to={to}>{label}</Link>
          )}
        </Fragment>
      ))}
    </nav>
  );
}
