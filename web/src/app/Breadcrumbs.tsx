import Breadcrumbs from '@mui/material/Breadcrumbs';
import { Link, useLocation } from 'react-router-dom';
import { useOffice } from '../client/index.ts';
import breadcrumbsCss from './breadcrumbs.module.css';

const AREAS: Readonly<Record<string, string>> = {
  home: 'Home',
  forms: 'Forms',
  tables: 'Tables',
  ledger: 'Ledger',
  imports: 'Tables',
  cabinets: 'New cabinet',
  people: 'People',
  account: 'Your account',
  outbox: 'Outbox',
  settings: 'Settings',
};

const PLACES: Readonly<Record<string, string>> = {
  edit: 'Edit form',
  new: 'New record',
  held: 'Held answers',
  page: 'Public page',
  answers: 'Answers',
  duplicates: 'Duplicates',
};

/** Where I am: area › table or form › record. */
export function PageBreadcrumbs() {
  const { cabinet } = useOffice();
  const { pathname, search } = useLocation();
  const [, , area = '', part, place] = pathname.split('/');
  const importing = area === 'imports';
  // An import belongs to the table that its address names.
  const thing = importing ? (new URLSearchParams(search).get('into') ?? undefined) : part;
  const named =
    cabinet.forms.find((one) => one.id === thing)?.label ?? cabinet.tables.find((one) => one.id === thing)?.label;
  const role = area === 'people' ? cabinet.roles.find((one) => one.id === place)?.label : undefined;
  const last = role ?? (importing ? 'Import' : place === undefined ? undefined : (PLACES[place] ?? 'Record'));
  const at = `/${cabinet.id}/${importing ? 'tables' : area}`;
  const steps: [label: string | undefined, to: string | undefined][] = [
    [AREAS[area], at],
    [named, `${at}/${thing}`],
    [last, undefined],
  ];
  const shown = steps.filter(([label]) => label !== undefined);
  return (
    <Breadcrumbs className={breadcrumbsCss.breadcrumbs} aria-label="Where I am" separator="›">
      {shown.map(([label, to], n) =>
        n === shown.length - 1 || to === undefined ? (
          <strong key={label} aria-current="page">
            {label}
          </strong>
        ) : (
          <Link key={label} to={to}>
            {label}
          </Link>
        ),
      )}
    </Breadcrumbs>
  );
}
