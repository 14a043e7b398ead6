import { say } from '@fiche/core/languages';
import Breadcrumbs from '@mui/material/Breadcrumbs';
import { Link, useLocation } from 'react-router-dom';
import { useOffice } from '../client/index.ts';
import breadcrumbsCss from './breadcrumbs.module.css';

const AREAS: Readonly<Record<string, string>> = {
  home: 'Home',
  forms: say('Forms'),
  tables: say('Tables'),
  ledger: say('Ledger'),
  imports: say('Tables'),
  cabinets: say('New cabinet'),
  people: say('People'),
  account: say('Your account'),
  outbox: say('Outbox'),
  settings: say('Settings'),
};

const PLACES: Readonly<Record<string, string>> = {
  edit: say('Edit form'),
  new: say('New record'),
  held: say('Held answers'),
  page: say('Public page'),
  answers: say('Answers'),
  duplicates: say('Duplicates'),
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
  const settings = area === 'settings' && part === 'operation' ? say('Operation') : undefined;
  const role = area === 'people' ? cabinet.roles.find((one) => one.id === place)?.label : undefined;
  const last = role ?? (importing ? say('Import') : place === undefined ? undefined : (PLACES[place] ?? say('Record')));
  const at = `/${cabinet.id}/${importing ? 'tables' : area}`;
  const steps: [label: string | undefined, to: string | undefined][] = [
    [AREAS[area], at],
    [named, `${at}/${thing}`],
    [last ?? settings, undefined],
  ];
  const shown = steps.filter(([label]) => label !== undefined);
  return (
    <Breadcrumbs className={breadcrumbsCss.breadcrumbs} aria-label={say('Where I am')} separator="›">
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
