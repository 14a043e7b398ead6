import type { PersonalLinkView } from '@fiche/core/api';
import { holdsAddress } from '@fiche/core/fields';
import type { DefinedForm } from '@fiche/core/forms';
import { say, sayCount, sayLater } from '@fiche/core/languages';
import { formatCount } from '@fiche/core/office';
import type { PublicPage } from '@fiche/core/pages';
import { linkedTable } from '@fiche/core/tables';
import Button from '@mui/material/Button';
import Table from '@mui/material/Table';
import TableBody from '@mui/material/TableBody';
import TableCell from '@mui/material/TableCell';
import TableHead from '@mui/material/TableHead';
import TableRow from '@mui/material/TableRow';
import TextField from '@mui/material/TextField';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { send, useOffice } from '../client/index.ts';
import {
  CheckField,
  SelectField,
  sayWith,
  settingsCss,
  showMoment,
  takeAway,
  textCss,
  useNotify,
  Waiting,
} from '../parts/index.ts';
import { useViews } from '../views/index.ts';
import { fieldsOfPage } from './fieldsOfPage.ts';
import { linksCsv } from './linksCsv.ts';
import { MomentField } from './MomentField.tsx';
import pagesCss from './pages.module.css';

interface PersonalLinksProps {
  readonly id: string;
  readonly page: PublicPage;
  readonly definition: DefinedForm;
  /** What is published: links are made for it. */
  readonly liveVersion: number | null;
}

const STATES: Readonly<Record<PersonalLinkView['state'], string>> = {
  open: sayLater('open'),
  used: sayLater('used'),
  late: sayLater('over'),
  withdrawn: sayLater('withdrawn'),
};

/** The personal links of a page: made from a view, sent by mail or taken away as a file, and withdrawn. */
export function PersonalLinks({ id, page, definition, liveVersion }: PersonalLinksProps) {
  const { cabinet, tables } = useOffice();
  // Links open what is published, also while the draft has another address.
  const slug = cabinet.forms.find((one) => one.id === id)?.slug ?? page.slug;
  const notify = useNotify();
  const queries = useQueryClient();
  const key = ['personalLinks', id, liveVersion];
  const at = `/api/forms/${id}/personal-links`;
  const query = useQuery({
    queryKey: key,
    queryFn: () => send<{ links: PersonalLinkView[]; total: number }>('GET', at),
    retry: false,
  });
  const fills = page.who?.kind === 'link' ? page.who.fills : '';
  const own = fieldsOfPage(definition, tables).find((one) => one.id === fills)?.field;
  const target = tables.get(linkedTable(own) ?? '');
  const refresh = (): Promise<void> => queries.invalidateQueries({ queryKey: key });
  const act = async (work: () => Promise<string>): Promise<void> => {
    try {
      notify(await work());
      await refresh();
    } catch (error) {
      notify((error as Error).message);
    }
  };
  if (query.isPending) return <Waiting what={say('Looking for personal links…')} />;
  if (query.isError)
    return (
      <p className={textCss.faded} role="status">
        {query.error.message}
      </p>
    );
  const { links, total } = query.data;
  const open = links.filter((one) => one.state === 'open');
  return (
    <div className={settingsCss.form}>
      {target && <MakeLinks at={at} table={target.id} label={target.label} onAct={act} />}
      {links.length > 0 && (
        <>
          <p>
            {sayWith('{total}, {count} open{answered}.', {
              total: sayCount(total, '{count} link', '{count} links'),
              count: formatCount(open.length),
              answered:
                total > links.length && say('; the newest {count} are shown', { count: formatCount(links.length) }),
            })}
          </p>
          <LinksTable at={at} links={links} onAct={act} />
          <div className={settingsCss.acts}>
            <Button onClick={() => void act(() => saveCsv(at, slug))}>{say('Export as CSV, with QR codes')}</Button>
          </div>
          {target && open.length > 0 && (
            <SendLinks
              at={at}
              fields={target.fields
                .filter((one) => holdsAddress(one))
                .map((one) => ({ value: one.id, label: one.label }))}
              label={definition.label}
              onAct={act}
            />
          )}
        </>
      )}
    </div>
  );
}

interface LinksTableProps {
  readonly at: string;
  readonly links: readonly PersonalLinkView[];
  onAct(work: () => Promise<string>): Promise<void>;
}

/** Personal links with the state of each, and a way to withdraw those that are open. */
function LinksTable({ at, links, onAct }: LinksTableProps) {
  return (
    // biome-ignore lint/a11y/noNoninteractiveTabindex: the keyboard scrolls it.
    <div className={pagesCss.days} tabIndex={0} role="group" aria-label={say('List of personal links')}>
      <Table aria-label={say('Personal links')}>
        <TableHead>
          <TableRow>
            <TableCell scope="col">{say('For')}</TableCell>
            <TableCell scope="col">{say('State')}</TableCell>
            <TableCell scope="col">
              <span className={textCss.visuallyHidden}>{say('Actions')}</span>
            </TableCell>
          </TableRow>
        </TableHead>
        <TableBody>
          {links.map((one) => (
            <TableRow key={one.id}>
              <TableCell>
                {one.title} <span className={textCss.faded}>L-{one.id}</span>
              </TableCell>
              <TableCell>
                {say(STATES[one.state])}
                {one.until && say(', until {until}', { until: one.until })}
                {one.mailedAt && say(', sent {mailedAt}', { mailedAt: showMoment(one.mailedAt) })}
                {one.answers > 0 && `, ${sayCount(one.answers, '{count} answer', '{count} answers')}`}
              </TableCell>
              <TableCell>
                {one.state === 'open' && (
                  <Button
                    variant="text"
                    aria-label={say('Withdraw the link for {title}', { title: one.title })}
                    onClick={() =>
                      void onAct(async () => {
                        await send('DELETE', `${at}/${one.id}`);
                        return say('The link for {title} opens the page no more.', { title: one.title });
                      })
                    }
                  >
                    {say('Withdraw')}
                  </Button>
                )}
              </TableCell>
            </TableRow>
          ))}
        </TableBody>
      </Table>
    </div>
  );
}

/** Writes all links into a file for the person. */
async function saveCsv(at: string, slug: string): Promise<string> {
  const all: PersonalLinkView[] = [];
  for (let before: number | undefined; ; ) {
    const page: { links: PersonalLinkView[]; before: number | null } = await send(
      'GET',
      `${at}?limit=1000${before === undefined ? '' : `&before=${before}`}`,
    );
    all.push(...page.links);
    before = page.before ?? undefined;
    if (before === undefined) break;
  }
  const text = await linksCsv(all, (token) => `${window.location.origin}/p/${slug}#link=${token}`);
  takeAway(`${slug}-links.csv`, 'text/csv;charset=utf-8', text);
  return say('{count} links are exported.', { count: formatCount(all.length) });
}

interface ActProps {
  readonly at: string;
  onAct(work: () => Promise<string>): Promise<void>;
}

function MakeLinks({ at, table, label, onAct }: ActProps & { readonly table: string; readonly label: string }) {
  const { views } = useViews(table);
  const [view, setView] = useState('');
  const [once, setOnce] = useState(true);
  const [until, setUntil] = useState<string | null>(null);
  const make = async (): Promise<string> => {
    const body = { view: view === '' ? null : Number(view), once, until };
    const { made, had } = await send<{ made: number; had: number }>('POST', at, body);
    return say('{made} links made{had}.', {
      made: formatCount(made),
      had: had > 0 ? say('; {had} records have one already', { had: formatCount(had) }) : '',
    });
  };
  const shared = views?.filter((one) => one.shared) ?? [];
  return (
    <section aria-label={say('Make personal links')} className={settingsCss.form}>
      <SelectField
        label={say('For the records of')}
        value={view}
        options={[
          { value: '', label: say('all {label}', { label }) },
          ...shared.map((one) => ({ value: String(one.id), label: say('the view {label}', { label: one.label }) })),
        ]}
        onChange={setView}
      />
      <div className={pagesCss.pair}>
        <CheckField label={say('Good for one answer')} checked={once} onChange={setOnce} />
        <MomentField label={say('Until')} day value={until} none={say('no end')} onSet={setUntil} />
      </div>
      <div className={settingsCss.acts}>
        <Button onClick={() => void onAct(make)}>{say('Make the links')}</Button>
      </div>
    </section>
  );
}

function SendLinks({
  at,
  fields,
  label,
  onAct,
}: ActProps & { readonly fields: readonly { value: string; label: string }[]; readonly label: string }) {
  const [to, setTo] = useState(fields[0]?.value ?? '');
  const [subject, setSubject] = useState(label);
  const [text, setText] = useState(say('Dear {title},\n\nplease open this address and answer:\n{link}'));
  if (fields.length === 0)
    return <p className={textCss.faded}>{say('To send the links, their table needs a field of the type e-mail.')}</p>;
  const mail = async (): Promise<string> => {
    const { sent, without, before } = await send<Record<'sent' | 'without' | 'before', number>>('POST', `${at}/mails`, {
      to,
      subject,
      text,
    });
    return [
      say('{sent} messages are in the outbox', { sent: formatCount(sent) }),
      ...(without > 0 ? [say('{without} records have no address', { without: formatCount(without) })] : []),
      ...(before > 0 ? [say('{before} links were sent before', { before: formatCount(before) })] : []),
    ].join('; ');
  };
  return (
    <section aria-label={say('Send the links')} className={settingsCss.form}>
      <SelectField label={say('Send to the address in')} value={to} options={fields} onChange={setTo} />
      <TextField
        label={say('Subject of the message')}
        value={subject}
        onChange={(event) => setSubject(event.target.value)}
      />
      <TextField
        label={say('Message')}
        multiline
        value={text}
        helperText={say('{link} is the address of the link, {title} the title of its record.')}
        onChange={(event) => setText(event.target.value)}
      />
      <div className={settingsCss.acts}>
        <Button onClick={() => void onAct(mail)}>{say('Put them into the outbox')}</Button>
      </div>
    </section>
  );
}
