import type { BackupView, OperationAnswer } from '@fiche/core/api';
import { say, sayCount } from '@fiche/core/languages';
import { formatBytes, formatCount } from '@fiche/core/office';
import Alert from '@mui/material/Alert';
import Button from '@mui/material/Button';
import Table from '@mui/material/Table';
import TableBody from '@mui/material/TableBody';
import TableCell from '@mui/material/TableCell';
import TableHead from '@mui/material/TableHead';
import TableRow from '@mui/material/TableRow';
import { useQuery } from '@tanstack/react-query';
import { clsx } from 'clsx';
import type { ReactNode } from 'react';
import { Link } from 'react-router-dom';
import { send, useOffice } from '../client/index.ts';
import { Card, cardCss, pageCss, sayWith, showMoment, textCss, Waiting } from '../parts/index.ts';
import operationCss from './operation.module.css';
import { aboutWords, backupProblem, backupWords, monthWords, sealWords, standbyWords } from './operationWords.ts';

/** How often, in ms, what is shown is asked for again. */
const AGAIN = 30_000;

/** How the installation does, for whoever runs it: backups, seals, size and growth, work in the background, standbys. */
export function OperationPage() {
  const { cabinet, may } = useOffice();
  const query = useQuery({
    queryKey: ['operation', cabinet.id],
    queryFn: () => send<OperationAnswer>('GET', `/api/cabinets/${cabinet.id}/operation`),
    enabled: may('build'),
    refetchInterval: AGAIN,
  });
  const { data: answer } = query;
  if (!may('build'))
    return <p className={pageCss.empty}>{say('Who may build forms can see how the installation does.')}</p>;
  return (
    <div className={clsx(pageCss.body, operationCss.operation)}>
      <div className={pageCss.head}>
        <h1>{say('Operation')}</h1>
        <span className={textCss.faded}>{say('How this installation does, for whoever runs the server.')}</span>
      </div>
      {query.isError && (
        <p className={textCss.problem} role="alert">
          {query.error.message}
        </p>
      )}
      {query.isPending && <Waiting what={say('Looking at the installation…')} />}
      {answer && (
        <div className={operationCss.cards}>
          <Backups backups={answer.backups} />
          <Seals answer={answer} ledger={`/${cabinet.id}/ledger`} />
          <Size answer={answer} />
          <Work answer={answer} />
          {answer.standbys.length > 0 && (
            <Card title={say('Standbys')}>
              <div className={cardCss.section}>
                <ul className={operationCss.lines}>
                  {answer.standbys.map((one, n) => (
                    // biome-ignore lint/suspicious/noArrayIndexKey: standbys have no name, only their place in the setting.
                    <li key={n}>{standbyWords(one, n + 1)}</li>
                  ))}
                </ul>
              </div>
            </Card>
          )}
        </div>
      )}
    </div>
  );
}

interface ColumnsProps {
  readonly label: string;
  /** The heads of the columns; those of numbers stand right. */
  readonly heads: readonly (string | { readonly number: string })[];
  readonly children: ReactNode;
}

function Columns({ label, heads, children }: ColumnsProps) {
  return (
    <Table size="small" aria-label={label} className={pageCss.list}>
      <TableHead>
        <TableRow>
          {heads.map((head) =>
            typeof head === 'string' ? (
              <TableCell key={head}>{head}</TableCell>
            ) : (
              <TableCell key={head.number} className={textCss.numeric}>
                {head.number}
              </TableCell>
            ),
          )}
        </TableRow>
      </TableHead>
      <TableBody>{children}</TableBody>
    </Table>
  );
}

function Backups({ backups }: { readonly backups: readonly BackupView[] }) {
  const problem = backupProblem(backups, new Date());
  return (
    <Card title={say('Backups')}>
      <div className={cardCss.section}>
        {problem && (
          <Alert severity="warning" className={operationCss.problem}>
            {problem}
          </Alert>
        )}
        {backups.length === 0 && (
          <p>
            {sayWith('Whoever runs the server takes one with {code}, and restores it with {second}.', {
              code: <code>npm run backup -- --to FOLDER --verify</code>,
              second: <code>npm run restore</code>,
            })}
          </p>
        )}
        {backups.length > 0 && (
          <Columns
            label={say('The last backups')}
            heads={[say('Began'), say('What'), { number: say('Size') }, say('How it ended, and where it is')]}
          >
            {backups.map((one) => (
              <TableRow key={one.begunAt}>
                <TableCell className={pageCss.when}>{showMoment(one.begunAt)}</TableCell>
                <TableCell>{one.kind === 'base' ? say('Whole server') : say('Dump')}</TableCell>
                <TableCell className={textCss.numeric}>{one.bytes === null ? '' : formatBytes(one.bytes)}</TableCell>
                <TableCell>
                  {backupWords(one)}
                  <div className={clsx(textCss.mono, textCss.faded, operationCss.place)}>{one.place}</div>
                </TableCell>
              </TableRow>
            ))}
          </Columns>
        )}
      </div>
    </Card>
  );
}

function Seals({ answer, ledger }: { readonly answer: OperationAnswer; readonly ledger: string }) {
  return (
    <Card title={say('Ledger')}>
      <div className={cardCss.section}>
        <p>{sealWords(answer.seal)}</p>
        <Columns
          label={say('The ledger by month')}
          heads={[say('Month'), { number: say('Lines, about') }, { number: say('Size') }]}
        >
          {answer.months.map(({ month, lines, bytes }) => (
            <TableRow key={month}>
              <TableCell>{monthWords(month)}</TableCell>
              <TableCell className={textCss.numeric}>{aboutWords(lines)}</TableCell>
              <TableCell className={textCss.numeric}>{formatBytes(bytes)}</TableCell>
            </TableRow>
          ))}
        </Columns>
      </div>
      <div className={cardCss.foot}>
        <Button variant="text" component={Link} to={ledger}>
          {say('Open the ledger, to verify it')}
        </Button>
      </div>
    </Card>
  );
}

function Size({ answer: { database, tables } }: { readonly answer: OperationAnswer }) {
  const { cabinet } = useOffice();
  const labelOf = (id: string): string => cabinet.tables.find((one) => one.id === id)?.label ?? id;
  return (
    <Card title={say('Database')}>
      <div className={cardCss.section}>
        <p>
          {say('{bytes} in PostgreSQL {version}{freeBytes} The largest tables of {label}:', {
            bytes: formatBytes(database.bytes),
            version: database.version,
            freeBytes:
              database.freeBytes === null
                ? '.'
                : say('; {freeBytes} are free on its disk.', { freeBytes: formatBytes(database.freeBytes) }),
            label: cabinet.label,
          })}
        </p>
        <Columns
          label={say('The largest tables')}
          heads={[say('Table'), { number: say('Records, about') }, { number: say('Size') }]}
        >
          {tables.map(({ table, records, bytes }) => (
            <TableRow key={table}>
              <TableCell>
                <Link to={`/${cabinet.id}/tables/${table}`}>{labelOf(table)}</Link>
              </TableCell>
              <TableCell className={textCss.numeric}>{aboutWords(records)}</TableCell>
              <TableCell className={textCss.numeric}>{formatBytes(bytes)}</TableCell>
            </TableRow>
          ))}
        </Columns>
      </div>
    </Card>
  );
}

function Work({ answer: { tasks, messages, failures } }: { readonly answer: OperationAnswer }) {
  return (
    <Card title={say('Work and messages')}>
      <div className={cardCss.section}>
        <ul className={operationCss.lines}>
          <li>
            {sayCount(
              tasks.open,
              '{count} task in the background is under way; {failed} failed in the last week.',
              '{count} tasks in the background are under way; {failed} failed in the last week.',
              { failed: formatCount(tasks.failed) },
            )}
          </li>
          <li>
            {sayCount(
              messages.waiting,
              '{count} message waits to be sent; {failed} could not be sent in the last week.',
              '{count} messages wait to be sent; {failed} could not be sent in the last week.',
              { failed: formatCount(messages.failed) },
            )}
          </li>
        </ul>
        {failures.length > 0 && (
          <Columns label={say('What failed lately')} heads={[say('When'), say('Work'), say('Why')]}>
            {failures.map(({ at, label, message }) => (
              <TableRow key={`${at} ${label}`}>
                <TableCell className={pageCss.when}>{showMoment(at)}</TableCell>
                <TableCell>{label}</TableCell>
                <TableCell>{message}</TableCell>
              </TableRow>
            ))}
          </Columns>
        )}
      </div>
    </Card>
  );
}
