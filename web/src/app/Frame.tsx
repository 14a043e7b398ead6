import type { SessionView } from '@fiche/core/api';
import { say } from '@fiche/core/languages';
import FormsIcon from '@mui/icons-material/AssignmentOutlined';
import HomeIcon from '@mui/icons-material/HomeOutlined';
import LedgerIcon from '@mui/icons-material/MenuBookOutlined';
import PeopleIcon from '@mui/icons-material/PeopleOutlined';
import SettingsIcon from '@mui/icons-material/SettingsOutlined';
import TablesIcon from '@mui/icons-material/TableRowsOutlined';
import Alert from '@mui/material/Alert';
import Button from '@mui/material/Button';
import ButtonBase from '@mui/material/ButtonBase';
import Menu from '@mui/material/Menu';
import MenuItem from '@mui/material/MenuItem';
import { clsx } from 'clsx';
import { type ReactNode, useMemo, useState } from 'react';
import { Link, NavLink, Outlet, useNavigate, useParams } from 'react-router-dom';
import { AccountPage } from '../account/index.ts';
import { OfficeContext, stopSeeingAs, useCabinetQuery, useSession } from '../client/index.ts';
import { InboxButton } from '../messages/index.ts';
import { pageCss, sayWith, useNotify, Waiting } from '../parts/index.ts';
import { AccountMenu } from './AccountMenu.tsx';
import { PageBreadcrumbs } from './Breadcrumbs.tsx';
import frameCss from './frame.module.css';
import { GoTo } from './GoTo.tsx';
import { HelpSheet } from './HelpSheet.tsx';
import { useOwnEvents } from './useOwnEvents.ts';

/** The dividers on the left, the top line, and the one working area. */
export function Frame() {
  const { data } = useSession();
  return data ? <OpenFrame session={data} /> : null;
}

function OpenFrame({ session }: { session: SessionView }) {
  const { cabinet: id = '' } = useParams();
  const query = useCabinetQuery(id);
  const office = useMemo(() => (query.data ? { cabinet: query.data, session } : undefined), [query.data, session]);
  const here = session.cabinets.find((one) => one.id === id);
  const rights = here?.rights ?? [];
  useOwnEvents(query.data);
  if (here?.lacksFactor) return <FactorFirst session={session} role={here.role} />;
  return (
    <div className={frameCss.frame}>
      <nav className={frameCss.dividers} aria-label={say('Cabinet')}>
        <CabinetName session={session} current={id} />
        <Divider to="home" icon={<HomeIcon />}>
          {say('Home')}
        </Divider>
        <Divider to="forms" icon={<FormsIcon />}>
          {say('Forms')}
        </Divider>
        <Divider to="tables" icon={<TablesIcon />}>
          {say('Tables')}
        </Divider>
        {rights.includes('ledger') && (
          <Divider to="ledger" icon={<LedgerIcon />}>
            {say('Ledger')}
          </Divider>
        )}
        <Divider to="people" icon={<PeopleIcon />}>
          {say('People')}
        </Divider>
        <Divider to="settings" icon={<SettingsIcon />}>
          {say('Settings')}
        </Divider>
      </nav>
      {query.isError && (
        <p className={pageCss.empty} role="alert">
          {query.error.message}
        </p>
      )}
      {query.isPending && <Waiting what={say('Opening the cabinet…')} />}
      {office && (
        <OfficeContext.Provider value={office}>
          <header className={frameCss.topLine}>
            <PageBreadcrumbs />
            <GoTo />
            <HelpSheet />
            <InboxButton />
            <AccountMenu session={session} />
          </header>
          {here?.seenAs && <SeenAs cabinet={id} label={here.label} role={here.role} />}
          <main className={frameCss.page}>
            <Outlet />
          </main>
        </OfficeContext.Provider>
      )}
    </div>
  );
}

/** For a role that works with a second factor only, and an account without one: adds it, then the cabinet opens. */
function FactorFirst({ session, role }: { session: SessionView; role: string }) {
  const others = session.cabinets.filter((one) => !one.lacksFactor && !one.archived);
  return (
    <div className={frameCss.factorFirst}>
      <header className={frameCss.topLine}>
        <AccountMenu session={session} />
      </header>
      <main className={frameCss.page}>
        <AccountPage
          before={
            <Alert severity="info" className={frameCss.before}>
              {sayWith('Your role here, {name}, works with a second factor only. Add one; then the cabinet opens.', {
                name: <strong>{role}</strong>,
              })}
              {others.map((one) => (
                <span key={one.id}>
                  {' '}
                  <Link to={`/${one.id}/home`}>{say('Go to {label}', { label: one.label })}</Link>
                </span>
              ))}
            </Alert>
          }
        />
      </main>
    </div>
  );
}

/** Says that the cabinet is seen as a role has it, and leads back. */
function SeenAs({ cabinet, label, role }: { cabinet: string; label: string; role: string }) {
  const notify = useNotify();
  return (
    <Alert
      severity="info"
      className={frameCss.seenAs}
      action={
        <Button
          variant="text"
          onClick={() => void stopSeeingAs(cabinet).catch((error: Error) => notify(error.message))}
        >
          {say('Leave')}
        </Button>
      }
    >
      {sayWith('You see {label} as the role {name} has it. Nothing can be changed.', {
        label,
        name: <strong>{role}</strong>,
      })}
    </Alert>
  );
}

function Divider({ to, icon, children }: { to: string; icon: ReactNode; children: ReactNode }) {
  const { cabinet } = useParams();
  return (
    <NavLink to={`/${cabinet}/${to}`} className={({ isActive }) => clsx(frameCss.divider, isActive && frameCss.open)}>
      {icon}
      {children}
    </NavLink>
  );
}

function CabinetName({ session, current }: { session: SessionView; current: string }) {
  const [anchor, setAnchor] = useState<HTMLElement>();
  const navigate = useNavigate();
  const here = session.cabinets.find((one) => one.id === current);
  const go = (path: string): void => {
    setAnchor(undefined);
    navigate(path);
  };
  return (
    <>
      <ButtonBase
        className={frameCss.cabinetName}
        aria-haspopup="menu"
        aria-label={say('Cabinet {label}, change', { label: here?.label ?? '' })}
        onClick={(event) => setAnchor(event.currentTarget)}
      >
        {here?.label ?? '—'}
      </ButtonBase>
      <Menu open={anchor !== undefined} anchorEl={anchor} onClose={() => setAnchor(undefined)}>
        {[...session.cabinets]
          .sort((a, b) => Number(a.archived) - Number(b.archived))
          .map((one) => (
            <MenuItem key={one.id} selected={one.id === current} onClick={() => go(`/${one.id}/home`)}>
              {one.label}
              {one.archived && ` ${say('(archived)')}`}
            </MenuItem>
          ))}
        {here?.rights.includes('build') && (
          <MenuItem onClick={() => go(`/${current}/cabinets/new`)}>{say('New cabinet…')}</MenuItem>
        )}
      </Menu>
    </>
  );
}
