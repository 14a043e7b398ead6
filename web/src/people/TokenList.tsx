import type { TokenView } from '@fiche/core/api';
import { say } from '@fiche/core/languages';
import Button from '@mui/material/Button';
import Table from '@mui/material/Table';
import TableBody from '@mui/material/TableBody';
import TableCell from '@mui/material/TableCell';
import TableHead from '@mui/material/TableHead';
import TableRow from '@mui/material/TableRow';
import { clsx } from 'clsx';
import { useOffice } from '../client/index.ts';
import { pageCss, showMoment, textCss, useNotify } from '../parts/index.ts';
import peoplePageCss from './peoplePage.module.css';
import { tokenStatus } from './status.ts';
import type { GivableRole } from './usePeople.ts';
import type { useTokens } from './useTokens.ts';

interface TokenListProps {
  readonly tokens: ReturnType<typeof useTokens>;
  readonly roles: readonly GivableRole[];
  onNew(): void;
}

/** The programs that work in the cabinet, each with a token of its own. */
export function TokenList({ tokens: { tokens, error, revoke }, roles, onNew }: TokenListProps) {
  const { tables } = useOffice();
  const notify = useNotify();
  const end = async ({ id, name }: TokenView): Promise<void> => {
    try {
      await revoke(id);
      notify(say('{name} is revoked: its token no longer works.', { name }));
    } catch (failed) {
      notify((failed as Error).message);
    }
  };
  return (
    <section aria-label={say('Programs')} className={peoplePageCss.programs}>
      <div className={pageCss.head}>
        <h2 className={pageCss.partTitle}>{say('Programs')}</h2>
        <div className={pageCss.end}>
          <Button variant="text" href="/api/docs" target="_blank">
            {say('How programs call Fiche')}
          </Button>
          <Button onClick={onNew}>{say('New token')}</Button>
        </div>
      </div>
      {error && (
        <p className={textCss.problem} role="alert">
          {error.message}
        </p>
      )}
      {tokens.length === 0 ? (
        <p className={textCss.faded}>
          {say(
            'A program that reads or writes records, such as a gauge, calls with a token in place of a password. There is none yet.',
          )}
        </p>
      ) : (
        <div className={pageCss.listCard}>
          <Table className={pageCss.list}>
            <TableHead>
              <TableRow>
                <TableCell scope="col">{say('Token')}</TableCell>
                <TableCell scope="col">{say('Role')}</TableCell>
                <TableCell scope="col" className={peoplePageCss.wide}>
                  {say('Tables')}
                </TableCell>
                <TableCell scope="col">{say('Used')}</TableCell>
                <TableCell scope="col">
                  <span className={textCss.visuallyHidden}>{say('Revoke')}</span>
                </TableCell>
              </TableRow>
            </TableHead>
            <TableBody>
              {tokens.map((one) => (
                <TableRow key={one.id} className={clsx(one.revoked && peoplePageCss.closed)}>
                  <TableCell className={textCss.mono}>{one.name}</TableCell>
                  <TableCell>{roles.find((role) => role.id === one.role)?.label ?? one.role}</TableCell>
                  <TableCell className={peoplePageCss.wide}>
                    {one.tables?.map((id) => tables.get(id)?.label ?? id).join(', ') ?? say('all')}
                  </TableCell>
                  <TableCell className={textCss.faded}>{tokenStatus(one, showMoment)}</TableCell>
                  <TableCell>
                    {one.revoked === null && (
                      <Button
                        variant="text"
                        aria-label={say('Revoke {name}', { name: one.name })}
                        onClick={() => void end(one)}
                      >
                        {say('Revoke')}
                      </Button>
                    )}
                  </TableCell>
                </TableRow>
              ))}
            </TableBody>
          </Table>
        </div>
      )}
    </section>
  );
}
