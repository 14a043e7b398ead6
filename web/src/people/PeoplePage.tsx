import { say } from '@fiche/core/languages';
import Button from '@mui/material/Button';
import Link from '@mui/material/Link';
import Table from '@mui/material/Table';
import TableBody from '@mui/material/TableBody';
import TableCell from '@mui/material/TableCell';
import TableHead from '@mui/material/TableHead';
import TableRow from '@mui/material/TableRow';
import { useState } from 'react';
import { Link as RouterLink } from 'react-router-dom';
import { useOffice } from '../client/index.ts';
import { pageCss, showMoment, textCss } from '../parts/index.ts';
import { AddPersonSheet } from './AddPersonSheet.tsx';
import { InviteSheet } from './InviteSheet.tsx';
import { NewRoleSheet } from './NewRoleSheet.tsx';
import { NewTokenSheet } from './NewTokenSheet.tsx';
import { PersonSheet } from './PersonSheet.tsx';
import peoplePageCss from './peoplePage.module.css';
import { RoleList } from './RoleList.tsx';
import { accountStatus } from './status.ts';
import { TokenList } from './TokenList.tsx';
import { usePeople } from './usePeople.ts';
import { useRoles } from './useRoles.ts';
import { useTokens } from './useTokens.ts';

type Open =
  | { readonly kind: 'invite' | 'add' | 'token' | 'role' }
  | { readonly kind: 'person'; readonly login: string };

/** Who may use this cabinet, and as what; whoever manages people invites them and changes their roles here. */
export function PeoplePage() {
  const { may } = useOffice();
  return may('people') ? <ManagedPeople /> : <ListedPeople />;
}

function ManagedPeople() {
  const { may } = useOffice();
  const people = usePeople();
  const tokens = useTokens();
  const cabinetRoles = useRoles();
  const [open, setOpen] = useState<Open>();
  const close = (): void => setOpen(undefined);
  const roles = people.people?.roles ?? [];
  const person = open?.kind === 'person' ? people.people?.people.find((one) => one.login === open.login) : undefined;
  return (
    <div className={pageCss.withSheet}>
      <div className={pageCss.body}>
        <div className={pageCss.head}>
          <h1>{say('People')}</h1>
          <div className={pageCss.end}>
            {may('outbox') && (
              <Button variant="text" component={RouterLink} to="../outbox">
                {say('Outbox')}
              </Button>
            )}
            {(people.people?.others.length ?? 0) > 0 && (
              <Button variant="text" onClick={() => setOpen({ kind: 'add' })}>
                {say('Add from another cabinet')}
              </Button>
            )}
            <Button variant="contained" onClick={() => setOpen({ kind: 'invite' })}>
              {say('Invite somebody')}
            </Button>
          </div>
        </div>
        {people.error && (
          <p className={textCss.problem} role="alert">
            {people.error.message}
          </p>
        )}
        <PeopleList people={people} onOpen={(login) => setOpen({ kind: 'person', login })} />
        <RoleList roles={cabinetRoles} onNew={() => setOpen({ kind: 'role' })} />
        <TokenList tokens={tokens} roles={roles} onNew={() => setOpen({ kind: 'token' })} />
      </div>
      {open?.kind === 'invite' && <InviteSheet people={people} onClose={close} />}
      {open?.kind === 'add' && <AddPersonSheet people={people} onClose={close} />}
      {open?.kind === 'role' && <NewRoleSheet roles={cabinetRoles} onClose={close} />}
      {open?.kind === 'token' && <NewTokenSheet tokens={tokens} roles={roles} onClose={close} />}
      {person && <PersonSheet key={person.login} person={person} people={people} onClose={close} />}
    </div>
  );
}

function PeopleList({
  people: { people },
  onOpen,
}: {
  people: ReturnType<typeof usePeople>;
  onOpen(login: string): void;
}) {
  return (
    <div className={pageCss.listCard}>
      <Table className={pageCss.list}>
        <TableHead>
          <TableRow>
            <TableCell scope="col">{say('Account')}</TableCell>
            <TableCell scope="col">{say('Name')}</TableCell>
            <TableCell scope="col">{say('Role')}</TableCell>
            <TableCell scope="col" className={peoplePageCss.wide}>
              {say('E-mail')}
            </TableCell>
            <TableCell scope="col">{say('Signed in')}</TableCell>
          </TableRow>
        </TableHead>
        <TableBody>
          {(people?.people ?? []).map((one) => (
            <TableRow key={one.login} className={one.closed ? peoplePageCss.closed : undefined}>
              <TableCell>
                <Link component="button" className={textCss.mono} onClick={() => onOpen(one.login)}>
                  {one.login}
                </Link>
              </TableCell>
              <TableCell>{one.displayName}</TableCell>
              <TableCell>{people?.roles.find((role) => role.id === one.role)?.label ?? one.role}</TableCell>
              <TableCell className={peoplePageCss.wide}>{one.email}</TableCell>
              <TableCell className={textCss.faded}>{accountStatus(one, showMoment)}</TableCell>
            </TableRow>
          ))}
        </TableBody>
      </Table>
    </div>
  );
}

function ListedPeople() {
  const { cabinet } = useOffice();
  return (
    <div className={pageCss.body}>
      <div className={pageCss.head}>
        <h1>{say('People')}</h1>
      </div>
      <div className={pageCss.listCard}>
        <Table className={pageCss.list}>
          <TableHead>
            <TableRow>
              <TableCell scope="col">{say('Account')}</TableCell>
              <TableCell scope="col">{say('Name')}</TableCell>
              <TableCell scope="col">{say('Role')}</TableCell>
            </TableRow>
          </TableHead>
          <TableBody>
            {cabinet.accounts
              .filter((one) => !one.closed)
              .map((one) => (
                <TableRow key={one.login}>
                  <TableCell className={textCss.mono}>{one.login}</TableCell>
                  <TableCell>{one.displayName}</TableCell>
                  <TableCell>{one.role}</TableCell>
                </TableRow>
              ))}
          </TableBody>
        </Table>
      </div>
    </div>
  );
}
