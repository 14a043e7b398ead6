import { readItems } from '@fiche/core/fields';
import { say } from '@fiche/core/languages';
import { formatCount } from '@fiche/core/office';
import type { TableDefinition } from '@fiche/core/tables';
import Alert from '@mui/material/Alert';
import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import Table from '@mui/material/Table';
import TableBody from '@mui/material/TableBody';
import TableCell from '@mui/material/TableCell';
import TableHead from '@mui/material/TableHead';
import TableRow from '@mui/material/TableRow';
import TextField from '@mui/material/TextField';
import { clsx } from 'clsx';
import { type SyntheticEvent, useState } from 'react';
import { Link, useNavigate, useSearchParams } from 'react-router-dom';
import { countWords, send, useOffice, useOverview, useRefreshCabinet } from '../client/index.ts';
import { FillCabinet } from '../home/index.ts';
import { CheckField, pageCss, settingsCss, showMoment, textCss } from '../parts/index.ts';

/** The tables of a cabinet with their records counted, and its option lists apart. */
export function TablesPage() {
  const { cabinet, may } = useOffice();
  const [search, setSearch] = useSearchParams();
  const making = search.get('new');
  const make = (kind: 'table' | 'list' | undefined): void => setSearch(kind ? { new: kind } : {}, { replace: true });
  const archived = search.get('archived') === 'yes';
  const gone = cabinet.tables.filter((one) => one.archived).length;
  const shown = cabinet.tables.filter((one) => (one.archived ?? false) === archived);
  const records = shown.filter((one) => one.kind === 'records');
  const lists = shown.filter((one) => one.kind === 'list');
  return (
    <div className={pageCss.body}>
      <div className={pageCss.head}>
        <h1>{say('Tables')}</h1>
        <div className={pageCss.end}>
          {(gone > 0 || archived) && (
            <CheckField
              label={say('Archived {gone}', { gone: formatCount(gone) })}
              checked={archived}
              onChange={(on) => setSearch(on ? { archived: 'yes' } : {})}
            />
          )}
          {may('build') && (
            <Button variant="text" href={`/api/cabinets/${cabinet.id}/export`} download>
              {say('Export cabinet')}
            </Button>
          )}
          {may('import') && (
            <Button variant="text" component={Link} to={`/${cabinet.id}/imports/new`}>
              {say('Import')}
            </Button>
          )}
          {may('build') && <Button onClick={() => make('list')}>{say('New option list')}</Button>}
          {may('build') && (
            <Button variant="contained" onClick={() => make('table')}>
              {say('New table')}
            </Button>
          )}
        </div>
      </div>
      {cabinet.tables.length === 0 ? (
        <div className={clsx(pageCss.empty, pageCss.listCard)}>
          <p>
            <strong>{say('There are no tables yet.')}</strong>{' '}
            {may('build')
              ? say(
                  'A table holds records of one kind, such as berths or vessels. Make one, import a spreadsheet, or start from a cabinet file.',
                )
              : say('As soon as a builder makes one, it is listed here.')}
          </p>
          {may('build') && (
            <p className={pageCss.acts}>
              <Button onClick={() => make('table')}>{say('New table')}</Button> <FillCabinet />
            </p>
          )}
        </div>
      ) : (
        <>
          {archived && gone === 0 && (
            <p className={clsx(pageCss.empty, pageCss.listCard)}>{say('No table is archived.')}</p>
          )}
          {records.length > 0 && <TableList tables={records} />}
          {lists.length > 0 && (
            <>
              <h2 className={pageCss.partTitle}>{say('Option lists')}</h2>
              <TableList tables={lists} lists />
            </>
          )}
        </>
      )}
      {making === 'table' && <NewTable onClose={() => make(undefined)} />}
      {making === 'list' && <NewList onClose={() => make(undefined)} />}
    </div>
  );
}

function TableList({ tables, lists = false }: { tables: readonly TableDefinition[]; lists?: boolean }) {
  const overview = useOverview();
  return (
    <div className={pageCss.listCard}>
      <Table
        className={clsx(pageCss.list, pageCss.cardsOnPhone)}
        aria-label={lists ? say('Option lists') : say('Tables')}
      >
        <TableHead>
          <TableRow>
            <TableCell scope="col">{lists ? say('List') : say('Table')}</TableCell>
            <TableCell scope="col">{lists ? say('Levels') : say('About')}</TableCell>
            <TableCell scope="col" className={textCss.numeric}>
              {lists ? say('Combinations') : say('Records')}
            </TableCell>
            <TableCell scope="col" className={textCss.numeric}>
              {say('Archived')}
            </TableCell>
            <TableCell scope="col">{say('Last change')}</TableCell>
            <TableCell scope="col">{say('Name in SQL')}</TableCell>
          </TableRow>
        </TableHead>
        <TableBody>
          {tables.map((table) => {
            const seen = overview?.tables.find((one) => one.id === table.id);
            return (
              <TableRow key={table.id}>
                <TableCell>
                  <Link to={table.id}>
                    <strong>{table.label}</strong>
                  </Link>
                </TableCell>
                <TableCell className={textCss.faded}>
                  {lists ? table.fields.map((one) => one.label).join(' › ') : table.description}
                </TableCell>
                <TableCell className={textCss.numeric}>{seen && countWords(seen.records)}</TableCell>
                <TableCell className={textCss.numeric}>
                  {seen && seen.archived > 0 && (
                    <Link to={`${table.id}?records&archived=yes`}>{countWords(seen.archived)}</Link>
                  )}
                </TableCell>
                <TableCell className={pageCss.when}>
                  {seen?.changedAt && `${showMoment(seen.changedAt)} · ${seen.changedBy}`}
                </TableCell>
                <TableCell className={clsx(textCss.mono, textCss.faded)}>{table.id}</TableCell>
              </TableRow>
            );
          })}
        </TableBody>
      </Table>
    </div>
  );
}

interface NewTableProps {
  onClose(): void;
}

/** Asks for the name of a new table, and opens it where its fields are added. */
function NewTable({ onClose }: NewTableProps) {
  const { cabinet } = useOffice();
  const [label, setLabel] = useState('');
  const { make, trouble } = useMaking(`/api/cabinets/${cabinet.id}/tables`, '?fields&field=+new');
  return (
    <NewDialog
      title={say('New table')}
      submit={say('Create table')}
      trouble={trouble}
      about={say('Its fields come next. You can change the name at any time.')}
      onSubmit={() => make({ label })}
      onClose={onClose}
    >
      <TextField
        autoFocus
        label={say('Name')}
        placeholder={say('such as Berths')}
        value={label}
        onChange={(event) => setLabel(event.target.value)}
      />
    </NewDialog>
  );
}

/** Asks for the name and the levels of a new option list, and opens it where its combinations are pasted. */
function NewList({ onClose }: NewTableProps) {
  const { cabinet } = useOffice();
  const [label, setLabel] = useState('');
  const [levels, setLevels] = useState('');
  const { make, trouble } = useMaking(`/api/cabinets/${cabinet.id}/lists`, '');
  const read = readItems(levels);
  return (
    <NewDialog
      title={say('New option list')}
      submit={say('Create list')}
      trouble={trouble}
      about={
        read.length > 1
          ? say('{count} levels: {list}. Each narrows the next; the combinations come next.', {
              count: formatCount(read.length),
              list: read.join(' › '),
            })
          : say('A list of choices to use in any table. With several levels, each narrows the next.')
      }
      onSubmit={() => make({ label, levels: read })}
      onClose={onClose}
    >
      <TextField
        autoFocus
        label={say('Name')}
        placeholder={say('such as Defects')}
        value={label}
        onChange={(event) => setLabel(event.target.value)}
      />
      <TextField
        label={say('Levels, from the top, separated by commas')}
        placeholder={say('System, Part, Defect')}
        value={levels}
        onChange={(event) => setLevels(event.target.value)}
      />
    </NewDialog>
  );
}

/** Sends what is to be made, and opens it; or says why not. */
function useMaking(url: string, query: string) {
  const { cabinet } = useOffice();
  const refresh = useRefreshCabinet();
  const navigate = useNavigate();
  const [trouble, setTrouble] = useState('');
  const make = async (body: object): Promise<void> => {
    setTrouble('');
    try {
      const table = await send<TableDefinition>('POST', url, body);
      await refresh();
      navigate(`/${cabinet.id}/tables/${table.id}${query}`);
    } catch (error) {
      setTrouble((error as Error).message);
    }
  };
  return { make, trouble };
}

interface NewDialogProps {
  readonly title: string;
  readonly submit: string;
  readonly trouble: string;
  /** What will be made, in words. */
  readonly about: string;
  readonly children: React.ReactNode;
  onSubmit(): Promise<void>;
  onClose(): void;
}

function NewDialog({ title, submit, trouble, about, children, onSubmit, onClose }: NewDialogProps) {
  const send = (event: SyntheticEvent): void => {
    event.preventDefault();
    void onSubmit();
  };
  return (
    <Dialog open onClose={onClose} fullWidth maxWidth="xs" aria-label={title}>
      <form noValidate onSubmit={send}>
        <DialogTitle>{title}</DialogTitle>
        <DialogContent>
          <div className={settingsCss.form}>
            {children}
            <p className={textCss.faded}>{about}</p>
            {trouble && (
              <Alert severity="error" role="alert">
                {trouble}
              </Alert>
            )}
          </div>
        </DialogContent>
        <DialogActions>
          <Button variant="text" onClick={onClose}>
            {say('Cancel')}
          </Button>
          <Button type="submit" variant="contained">
            {submit}
          </Button>
        </DialogActions>
      </form>
    </Dialog>
  );
}
