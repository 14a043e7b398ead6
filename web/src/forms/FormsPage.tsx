import type { ListedForm, OverviewView, UsesView } from '@fiche/core/api';
import { say, sayCount } from '@fiche/core/languages';
import { formatCount } from '@fiche/core/office';
import MoreIcon from '@mui/icons-material/MoreVert';
import Button from '@mui/material/Button';
import IconButton from '@mui/material/IconButton';
import Menu from '@mui/material/Menu';
import MenuItem from '@mui/material/MenuItem';
import Table from '@mui/material/Table';
import TableBody from '@mui/material/TableBody';
import TableCell from '@mui/material/TableCell';
import TableHead from '@mui/material/TableHead';
import TableRow from '@mui/material/TableRow';
import { clsx } from 'clsx';
import { useState } from 'react';
import { Link, useNavigate, useSearchParams } from 'react-router-dom';
import { send, useOffice, useOverview, useRefreshCabinet } from '../client/index.ts';
import { CheckField, pageCss, sayWith, showMoment, textCss, useNotify } from '../parts/index.ts';
import { askUses, UsedDialog } from '../uses/index.ts';
import formsPageCss from './formsPage.module.css';
import { NewFormDialog } from './NewFormDialog.tsx';

/** The forms of a cabinet: what each writes to, its state, how it is used, and what can be done with it. */
export function FormsPage() {
  const { cabinet, may } = useOffice();
  const overview = useOverview();
  const [search, setSearch] = useSearchParams();
  const builds = may('build');
  const archived = search.get('archived') === 'yes';
  const known = cabinet.forms.filter((form) => builds || form.liveVersion !== null);
  const gone = known.filter((form) => form.archived).length;
  const shown = known.filter((form) => form.archived === archived);
  const making = search.has('new') && builds;
  return (
    <div className={pageCss.body}>
      <div className={pageCss.head}>
        <h1>{say('Forms')}</h1>
        <div className={pageCss.end}>
          {(gone > 0 || archived) && (
            <CheckField
              label={say('Archived {gone}', { gone: formatCount(gone) })}
              checked={archived}
              onChange={(on) => setSearch(on ? { archived: 'yes' } : {})}
            />
          )}
          {builds && cabinet.tables.length > 0 && (
            <Button variant="contained" onClick={() => setSearch({ new: '' })}>
              {say('New form')}
            </Button>
          )}
        </div>
      </div>
      {shown.length === 0 ? (
        <p className={clsx(pageCss.empty, pageCss.listCard)}>
          <strong>{archived ? say('No form is archived.') : say('There are no forms yet.')}</strong>{' '}
          {!archived &&
            (builds
              ? cabinet.tables.length === 0
                ? sayWith('A form writes to a table. {link} first.', {
                    link: <Link to={`/${cabinet.id}/tables?new=table`}>{say('Make a table')}</Link>,
                  })
                : sayWith('Make one from a table in one step, then edit it. {button}', {
                    button: <Button onClick={() => setSearch({ new: '' })}>{say('New form')}</Button>,
                  })
              : say('As soon as a builder publishes one, it is listed here.'))}
        </p>
      ) : (
        <div className={pageCss.listCard}>
          <Table className={clsx(pageCss.list, pageCss.cardsOnPhone)} aria-label={say('Forms')}>
            <TableHead>
              <TableRow>
                <TableCell scope="col">{say('Form')}</TableCell>
                <TableCell scope="col">{say('Writes to')}</TableCell>
                <TableCell scope="col">{say('State')}</TableCell>
                <TableCell scope="col" className={textCss.numeric}>
                  {say('Last 7 days')}
                </TableCell>
                <TableCell scope="col">{say('Last used')}</TableCell>
                <TableCell scope="col">{say('Public page')}</TableCell>
                <TableCell scope="col">
                  <span className={textCss.visuallyHidden}>{say('Actions')}</span>
                </TableCell>
              </TableRow>
            </TableHead>
            <TableBody>
              {shown.map((form) => (
                <FormRow key={form.id} form={form} use={overview?.forms.find((one) => one.id === form.id)} />
              ))}
            </TableBody>
          </Table>
        </div>
      )}
      {making && <NewFormDialog onClose={() => setSearch({})} />}
    </div>
  );
}

function FormRow({ form, use }: { form: ListedForm; use: OverviewView['forms'][number] | undefined }) {
  const { cabinet, tables, may } = useOffice();
  const builds = may('build');
  const open = form.liveVersion !== null && !form.archived;
  return (
    <TableRow>
      <TableCell>
        {open ? (
          <Link to={form.id}>
            <strong>{form.label}</strong>
          </Link>
        ) : (
          <strong>{form.label}</strong>
        )}
      </TableCell>
      <TableCell>
        <Link to={`/${cabinet.id}/tables/${form.table}`}>{tables.get(form.table)?.label}</Link>
      </TableCell>
      <TableCell>
        {stateOf(form, builds)}
        {use && use.must > 0 && (
          <span className={formsPageCss.problemCount}>
            {' '}
            ▲ {sayCount(use.must, '{count} problem', '{count} problems')}
          </span>
        )}
        {use && use.must === 0 && use.look > 0 && (
          <span className={formsPageCss.lookCount}> {say('● {look} to look at', { look: use.look })}</span>
        )}
      </TableCell>
      <TableCell className={textCss.numeric}>{use && use.filled > 0 && formatCount(use.filled)}</TableCell>
      <TableCell className={pageCss.when}>{use?.filledAt && `${showMoment(use.filledAt)} · ${use.filledBy}`}</TableCell>
      <TableCell>
        {form.slug && (
          <a href={`/p/${form.slug}`} target="_blank" rel="noreferrer">
            /p/{form.slug}
          </a>
        )}
        {form.slug && may('change', form.table) && (
          <>
            {' · '}
            <Link to={`${form.id}/answers`}>{say('Answers')}</Link>
            {form.held ? (
              <>
                {' · '}
                <Link to={`${form.id}/held`}>{sayCount(form.held, '{count} held answer', '{count} held answers')}</Link>
              </>
            ) : null}
          </>
        )}
      </TableCell>
      <TableCell className={formsPageCss.rowActs}>
        {open && (
          <Button variant="text" component={Link} to={form.id} aria-label={say('Open {label}', { label: form.label })}>
            {say('Open')}
          </Button>
        )}
        {builds && !form.archived && (
          <Button
            variant="text"
            component={Link}
            to={`${form.id}/edit`}
            aria-label={say('Edit form {label}', { label: form.label })}
          >
            {say('Edit form')}
          </Button>
        )}
        {builds && <FormMenu form={form} />}
      </TableCell>
    </TableRow>
  );
}

/** What is done with a form now and then. */
function FormMenu({ form }: { form: ListedForm }) {
  const { cabinet } = useOffice();
  const [anchor, setAnchor] = useState<HTMLElement>();
  const [uses, setUses] = useState<UsesView>();
  const refresh = useRefreshCabinet();
  const navigate = useNavigate();
  const notify = useNotify();
  const run = async (work: () => Promise<void>): Promise<void> => {
    setAnchor(undefined);
    try {
      await work();
    } catch (error) {
      notify((error as Error).message);
    }
  };
  const duplicate = async (): Promise<void> => {
    const taken = new Set(cabinet.forms.map((one) => one.label));
    let label = say('{label} copy', { label: form.label });
    for (let n = 2; taken.has(label); n++) label = say('{label} copy {n}', { label: form.label, n });
    const made = await send<ListedForm>('POST', `/api/forms/${form.id}/duplicate`, { label });
    await refresh();
    navigate(`/${cabinet.id}/forms/${made.id}/edit`);
  };
  const archive = async (archived: boolean): Promise<void> => {
    await send('PATCH', `/api/forms/${form.id}`, { archived });
    await refresh();
    notify(
      archived
        ? say('{label} is archived: nobody can fill it.', { label: form.label })
        : say('{label} is back in use.', { label: form.label }),
      archived ? () => void run(() => archive(false)) : undefined,
    );
  };
  /** Archives it, or asks first where others lead to it. */
  const askFirst = async (): Promise<void> => {
    const found = await askUses(cabinet.id, { form: form.id });
    if (found.uses.length === 0) await archive(true);
    else setUses(found);
  };
  return (
    <>
      <IconButton
        aria-label={say('More for {label}', { label: form.label })}
        aria-haspopup="menu"
        onClick={(event) => setAnchor(event.currentTarget)}
      >
        <MoreIcon />
      </IconButton>
      <Menu open={anchor !== undefined} anchorEl={anchor} onClose={() => setAnchor(undefined)}>
        <MenuItem onClick={() => void run(duplicate)}>{say('Duplicate')}</MenuItem>
        <MenuItem onClick={() => void run(form.archived ? () => archive(false) : askFirst)}>
          {form.archived ? say('Restore') : say('Archive')}
        </MenuItem>
      </Menu>
      {uses && (
        <UsedDialog
          label={say('Archive {label}', { label: form.label })}
          uses={uses}
          act={() => {
            setUses(undefined);
            void run(() => archive(true));
          }}
          onClose={() => setUses(undefined)}
        />
      )}
    </>
  );
}

function stateOf(form: ListedForm, builds: boolean): string {
  if (form.archived) return 'archived';
  if (form.liveVersion === null) return say('draft, not published');
  return say('version {liveVersion}{builds}', {
    liveVersion: form.liveVersion,
    builds: builds && form.changedSince ? say(', draft changed since') : '',
  });
}
