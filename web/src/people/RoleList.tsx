import type { ListedRole } from '@fiche/core/api';
import { say, sayCount } from '@fiche/core/languages';
import { rightsAnywhere } from '@fiche/core/rights';
import Button from '@mui/material/Button';
import Table from '@mui/material/Table';
import TableBody from '@mui/material/TableBody';
import TableCell from '@mui/material/TableCell';
import TableHead from '@mui/material/TableHead';
import TableRow from '@mui/material/TableRow';
import { Link } from 'react-router-dom';
import { seeCabinetAs, useOffice } from '../client/index.ts';
import { pageCss, textCss, useNotify } from '../parts/index.ts';
import peoplePageCss from './peoplePage.module.css';
import { rightsWords } from './rightsWords.ts';
import type { useRoles } from './useRoles.ts';

interface RoleListProps {
  readonly roles: ReturnType<typeof useRoles>;
  onNew(): void;
}

/** The roles of the cabinet: what each allows in short, and who has it. */
export function RoleList({ roles: { roles = [], error }, onNew }: RoleListProps) {
  const { cabinet, tables, may } = useOffice();
  const notify = useNotify();
  const seeAs = (id: string): void => {
    seeCabinetAs(cabinet.id, id).catch((failed: Error) => notify(failed.message));
  };
  return (
    <section aria-label={say('Roles')} className={peoplePageCss.programs}>
      <div className={pageCss.head}>
        <h2 className={pageCss.partTitle}>{say('Roles')}</h2>
        <div className={pageCss.end}>
          <Button onClick={onNew}>{say('New role')}</Button>
        </div>
      </div>
      {error && (
        <p className={textCss.problem} role="alert">
          {error.message}
        </p>
      )}
      <div className={pageCss.listCard}>
        <Table className={pageCss.list}>
          <TableHead>
            <TableRow>
              <TableCell scope="col">{say('Role')}</TableCell>
              <TableCell scope="col" className={peoplePageCss.wide}>
                {say('May')}
              </TableCell>
              <TableCell scope="col" className={peoplePageCss.short}>
                {say('Who has it')}
              </TableCell>
              <TableCell scope="col">
                <span className={textCss.visuallyHidden}>{say('See the cabinet as it')}</span>
              </TableCell>
            </TableRow>
          </TableHead>
          <TableBody>
            {roles.map((one) => (
              <TableRow key={one.role.id}>
                <TableCell>
                  <Link to={`roles/${one.role.id}`}>{one.role.label}</Link>
                </TableCell>
                <TableCell className={peoplePageCss.wide}>
                  {rightsWords(rightsAnywhere(one.role, tables)) || say('nothing yet')}
                  {isLimited(one) && <span className={textCss.faded}> {say('· with limits')}</span>}
                </TableCell>
                <TableCell className={peoplePageCss.short}>{havingWords(one)}</TableCell>
                <TableCell>
                  {may('build') && !one.role.rights.includes('build') && (
                    <Button variant="text" onClick={() => seeAs(one.role.id)}>
                      {say('See as {label}', { label: one.role.label })}
                    </Button>
                  )}
                </TableCell>
              </TableRow>
            ))}
          </TableBody>
        </Table>
      </div>
    </section>
  );
}

/** Whether a role is limited to some records, fields or forms. */
const isLimited = ({ role }: ListedRole): boolean =>
  !role.rights.includes('build') && (Object.keys(role.tables).length > 0 || role.closedForms.length > 0);

function havingWords({ people, tokens }: ListedRole): string {
  const said = [
    ...(people > 0 ? [sayCount(people, '1 person', '{count} people')] : []),
    ...(tokens > 0 ? [sayCount(tokens, '1 token', '{count} tokens')] : []),
  ];
  return said.join(', ') || 'nobody';
}
