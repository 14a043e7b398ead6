import type { TokenView } from '@fiche/core/api';
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
      notify(`${name} is revoked: its token no longer works.`);
    } catch (failed) {
      notify((failed as Error).message);
    }
  };
  return (
    <section aria-label="Programs" className={peoplePageCss.programs}>
      <div className={pageCss.head}>
        <h2 className={pageCss.partTitle}>Programs</h2>
        <div className={pageCss.end}>
          <Button variant="text" href="/api/docs" target="_blank">
            How programs call Fiche
          </Button>
          <Button onClick={onNew}>New token</Button>
        </div>
      </div>
      {error && (
        <p className={textCss.problem} role="alert">
          {error.message}
        </p>
      )}
      {tokens.length === 0 ? (
        <p className={textCss.faded}>
          A program that reads or writes records, such as a gauge, calls with a token in place of a password. There is
          none yet.
        </p>
      ) : (
        <div className={pageCss.listCard}>
          <Table className={pageCss.list}>
            <TableHead>
              <TableRow>
                <TableCell scope="col">Token</TableCell>
                <TableCell scope="col">Role</TableCell>
                <TableCell scope="col" className={peoplePageCss.wide}>
                  Tables
                </TableCell>
                <TableCell scope="col">Used</TableCell>
                <TableCell scope="col">
                  <span className={textCss.visuallyHidden}>Revoke</span>
                </TableCell>
              </TableRow>
            </TableHead>
            <TableBody>
              {tokens.map((one) => (
                <TableRow key={one.id} className={clsx(one.revoked && peoplePageCss.closed)}>
                  <TableCell className={textCss.mono}>{one.name}</TableCell>
                  <TableCell>{roles.find((role) => role.id === one.role)?.label ?? one.role}</TableCell>
                  <TableCell className={peoplePageCss.wide}>
                    {one.tables?.map((id) => tables.get(id)?.label ?? id).join(', ') ?? 'all'}
                  </TableCell>
                  <TableCell className={textCss.faded}>{tokenStatus(one, showMoment)}</TableCell>
                  <TableCell>
                    {one.revoked === null && (
                      <Button variant="text" aria-label={`Revoke ${one.name}`} onClick={() => void end(one)}>
                        Revoke
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
