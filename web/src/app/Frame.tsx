import type { SessionView } from '@fiche/core/api';
import SettingsIcon from '@mui/icons-material/SettingsOutlined';
import Menu from '@mui/material/Menu';
import MenuItem from '@mui/material/MenuItem';
import { useQueryClient } from '@tanstack/react-query';
import { type ReactNode, useMemo, useState } from 'react';
import { NavLink, Outlet, useLocation, useNavigate, useParams } from 'react-router-dom';
import { OfficeContext, send, useCabinetQuery, useSession } from '../client/index.ts';
import { Waiting } from '../parts/index.ts';
import { GoTo } from './GoTo.tsx';
import { DeskIcon, FormsIcon, LedgerIcon, PeopleIcon, TablesIcon } from './icons.tsx';
import { KeysSheet } from './KeysSheet.tsx';
import { useAssigned } from './useAssigned.ts';
import { Whereabouts } from './Whereabouts.tsx';

/** The dividers on the left, the top line, and the one working area. */
export function Frame() {
  const { data } = useSession();
  return data ? <OpenFrame session={data} /> : null;
}

function OpenFrame({ session }: { session: SessionView }) {
  const { cabinet: id = '' } = useParams();
  const query = useCabinetQuery(id);
  const office = useMemo(() => (query.data ? { cabinet: query.data, session } : undefined), [query.data, session]);
  const rights = session.cabinets.find((one) => one.id === id)?.rights ?? [];
  useAssigned(query.data);
  return (
    <div className="frame">
      <nav className="dividers" aria-label="Cabinet">
        <CabinetName session={session} current={id} />
        <Divider to="desk" icon={<DeskIcon />}>
          Desk
        </Divider>
        <Divider to="forms" icon={<FormsIcon />}>
          Forms
        </Divider>
        <Divider to="tables" icon={<TablesIcon />}>
          Tables
        </Divider>
        {rights.includes('ledger') && (
          <Divider to="ledger" icon={<LedgerIcon />}>
            Ledger
          </Divider>
        )}
        <Divider to="people" icon={<PeopleIcon />}>
          People
        </Divider>
        <Divider to="settings" icon={<SettingsIcon />}>
          Settings
        </Divider>
      </nav>
      {query.isError && (
        <p className="empty" role="alert">
          {query.error.message}
        </p>
      )}
      {query.isPending && <Waiting what="Opening the cabinet…" />}
      {office && (
        <OfficeContext.Provider value={office}>
          <header className="top-line">
            <Whereabouts />
            <GoTo />
            <KeysSheet />
            <AccountMenu session={session} />
          </header>
          <main className="page">
            <Outlet />
          </main>
        </OfficeContext.Provider>
      )}
    </div>
  );
}

function Divider({ to, icon, children }: { to: string; icon: ReactNode; children: ReactNode }) {
  const { cabinet } = useParams();
  return (
    <NavLink to={`/${cabinet}/${to}`} className={({ isActive }) => `divider${isActive ? ' open' : ''}`}>
      {icon}
      {children}
    </NavLink>
  );
}

function CabinetName({ session, current }: { session: SessionView; current: string }) {
  const [anchor, setAnchor] = useState<HTMLElement>();
  const navigate = useNavigate();
  const here = session.cabinets.find((one) => one.id === current);
  const go = (id: string): void => {
    setAnchor(undefined);
    navigate(`/${id}/desk`);
  };
  return (
    <>
      <button
        type="button"
        className="cabinet-name"
        aria-haspopup="menu"
        aria-label={`Cabinet ${here?.label ?? ''}, change`}
        onClick={(event) => setAnchor(event.currentTarget)}
      >
        {here?.label ?? '—'}
      </button>
      <Menu open={anchor !== undefined} anchorEl={anchor} onClose={() => setAnchor(undefined)} transitionDuration={0}>
        {session.cabinets.map((one) => (
          <MenuItem key={one.id} selected={one.id === current} onClick={() => go(one.id)}>
            {one.label}
          </MenuItem>
        ))}
        {here?.rights.includes('build') && (
          <MenuItem
            onClick={() => {
              setAnchor(undefined);
              navigate(`/${current}/cabinets/new`);
            }}
          >
            A new cabinet…
          </MenuItem>
        )}
      </Menu>
    </>
  );
}

function AccountMenu({ session }: { session: SessionView }) {
  const [anchor, setAnchor] = useState<HTMLElement>();
  const queries = useQueryClient();
  const { pathname } = useLocation();
  const leave = async (): Promise<void> => {
    await send('DELETE', '/api/session');
    queries.clear();
    window.location.assign('/');
  };
  return (
    <>
      <button
        type="button"
        className="account"
        aria-haspopup="menu"
        onClick={(event) => setAnchor(event.currentTarget)}
      >
        {session.login}
      </button>
      <Menu
        key={pathname}
        open={anchor !== undefined}
        anchorEl={anchor}
        onClose={() => setAnchor(undefined)}
        transitionDuration={0}
      >
        <MenuItem disabled>{session.displayName}</MenuItem>
        <MenuItem onClick={() => void leave()}>Sign out</MenuItem>
      </Menu>
    </>
  );
}
