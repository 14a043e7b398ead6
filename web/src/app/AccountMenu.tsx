import type { SessionView } from '@fiche/core/api';
import { say } from '@fiche/core/languages';
import AccountIcon from '@mui/icons-material/AccountCircleOutlined';
import ExpandIcon from '@mui/icons-material/ExpandMore';
import SignOutIcon from '@mui/icons-material/Logout';
import SettingsIcon from '@mui/icons-material/ManageAccountsOutlined';
import Button from '@mui/material/Button';
import Divider from '@mui/material/Divider';
import ListItemIcon from '@mui/material/ListItemIcon';
import ListSubheader from '@mui/material/ListSubheader';
import Menu from '@mui/material/Menu';
import MenuItem from '@mui/material/MenuItem';
import { useColorScheme } from '@mui/material/styles';
import { useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { Link, useParams } from 'react-router-dom';
import { send } from '../client/index.ts';
import accountCss from './account.module.css';
import { applyDensity, type Density, readDensity } from './density.ts';

const SCHEMES = { light: say('Light'), dark: say('Dark'), system: say('As the system') } as const;
const DENSITIES: Readonly<Record<Density, string>> = { compact: say('Compact'), roomy: say('Roomy') };

/** The account: who is signed in, how the application looks in this browser, and signing out. */
export function AccountMenu({ session }: { session: SessionView }) {
  const { cabinet } = useParams();
  const [anchor, setAnchor] = useState<HTMLElement>();
  const { mode = 'system', setMode } = useColorScheme();
  const [density, setDensity] = useState(readDensity);
  const queries = useQueryClient();
  const signOut = async (): Promise<void> => {
    await send('DELETE', '/api/session');
    queries.clear();
    window.location.assign('/');
  };
  const chooseDensity = (next: Density): void => {
    applyDensity(next);
    setDensity(next);
  };
  return (
    <>
      <Button
        variant="text"
        className={accountCss.account}
        color="inherit"
        aria-haspopup="menu"
        aria-label={say('Account {login}', { login: session.login ?? '' })}
        startIcon={<AccountIcon />}
        endIcon={<ExpandIcon />}
        onClick={(event) => setAnchor(event.currentTarget)}
      >
        <span className={accountCss.login}>{session.login}</span>
      </Button>
      <Menu open={anchor !== undefined} anchorEl={anchor} onClose={() => setAnchor(undefined)}>
        <ListSubheader role="presentation">{session.displayName}</ListSubheader>
        <MenuItem component={Link} to={`/${cabinet}/account`} onClick={() => setAnchor(undefined)}>
          <ListItemIcon>
            <SettingsIcon />
          </ListItemIcon>
          {say('Your account')}
        </MenuItem>
        <Divider role="presentation" />
        <ListSubheader role="presentation">{say('Colours')}</ListSubheader>
        {(Object.keys(SCHEMES) as (keyof typeof SCHEMES)[]).map((scheme) => (
          <MenuItem
            key={scheme}
            role="menuitemradio"
            aria-checked={mode === scheme}
            selected={mode === scheme}
            onClick={() => setMode(scheme)}
          >
            {SCHEMES[scheme]}
          </MenuItem>
        ))}
        <ListSubheader role="presentation">{say('Density')}</ListSubheader>
        {(Object.keys(DENSITIES) as Density[]).map((one) => (
          <MenuItem
            key={one}
            role="menuitemradio"
            aria-checked={density === one}
            selected={density === one}
            onClick={() => chooseDensity(one)}
          >
            {DENSITIES[one]}
          </MenuItem>
        ))}
        <Divider role="presentation" />
        <MenuItem onClick={() => void signOut()}>
          <ListItemIcon>
            <SignOutIcon />
          </ListItemIcon>
          {say('Sign out')}
        </MenuItem>
      </Menu>
    </>
  );
}
