import type { OwnAccount } from '@fiche/core/api';
import { say } from '@fiche/core/languages';
import { NOTICE_KINDS, NOTICE_LABELS, type NoticeKind } from '@fiche/core/messages';
import Button from '@mui/material/Button';
import FormControl from '@mui/material/FormControl';
import FormLabel from '@mui/material/FormLabel';
import { useQueryClient } from '@tanstack/react-query';
import { useEffect, useRef } from 'react';
import { Link, useLocation } from 'react-router-dom';
import { send } from '../client/index.ts';
import { Card, CheckField, cardCss, textCss, useNotify } from '../parts/index.ts';
import noticeSettingsCss from './noticeSettings.module.css';
import { useWatches, type Watched } from './useWatches.ts';

/** Which notices come by mail too, and the records and views that one watches. */
export function NoticeSettings({ account }: { account: OwnAccount }) {
  const queries = useQueryClient();
  const notify = useNotify();
  const card = useRef<HTMLDivElement>(null);
  const { hash } = useLocation();
  useEffect(() => {
    if (hash === '#messages') card.current?.scrollIntoView({ block: 'start' });
  }, [hash]);
  const choose = async (kind: NoticeKind, on: boolean): Promise<void> => {
    const mailed = NOTICE_KINDS.filter((one) => (one === kind ? on : account.mailed.includes(one)));
    // Shown at once; a refusal brings back what was there.
    queries.setQueryData<OwnAccount>(['account'], { ...account, mailed });
    try {
      await send('PATCH', '/api/account', { mailed });
    } catch (error) {
      notify((error as Error).message);
    }
    await queries.invalidateQueries({ queryKey: ['account'] });
  };
  const reachable = account.email !== '';
  return (
    <div ref={card} id="messages">
      <Card title={say('Messages')}>
        <div className={cardCss.section}>
          <FormControl component="fieldset" aria-describedby="mailed-help">
            <FormLabel component="legend" className={noticeSettingsCss.legend}>
              {say('Your inbox tells you of these. Send them by mail too:')}
            </FormLabel>
            {NOTICE_KINDS.map((kind) => (
              <div key={kind}>
                <CheckField
                  label={say(NOTICE_LABELS[kind])}
                  checked={account.mailed.includes(kind)}
                  disabled={!reachable}
                  onChange={(on) => void choose(kind, on)}
                />
              </div>
            ))}
            <p id="mailed-help" className={textCss.faded}>
              {reachable
                ? say('They go to {email}, unless you have seen them here within a minute.', { email: account.email })
                : say('Your account has no e-mail address. Add one above first.')}
            </p>
          </FormControl>
        </div>
        <WatchedList />
      </Card>
    </div>
  );
}

function WatchedList() {
  const notify = useNotify();
  const { watches, known, setWatched } = useWatches();
  if (!known) return null;
  return (
    <section className={cardCss.section} aria-label={say('What you watch')}>
      <h3 className={noticeSettingsCss.legend}>{say('What you watch')}</h3>
      {watches.length === 0 && (
        <p className={textCss.faded}>
          {say(
            'Nothing. Open a record and choose Watch at its foot, or a saved view and Watch above it, to be told of changes.',
          )}
        </p>
      )}
      <ul className={noticeSettingsCss.watched}>
        {watches.map(({ cabinet, table, record, view, form, title }) => {
          const at = `/${cabinet}/tables/${table.id}`;
          const what: Watched =
            form !== null
              ? { form }
              : view === null
                ? { table: table.id, record: record ?? 0 }
                : { table: table.id, view };
          const place =
            form !== null
              ? `/${cabinet}/forms/${form}/answers`
              : view === null
                ? `${at}/${record}`
                : `${at}?view=${view}`;
          return (
            <li key={`${table.id}:${record}:${view}:${form}`}>
              <span>
                <Link to={place}>
                  {table.label}: {title}
                </Link>
                {view !== null && <span className={textCss.faded}> {say('view')}</span>}
                {form !== null && <span className={textCss.faded}> {say('answers to its public page')}</span>}
              </span>
              <Button
                variant="text"
                aria-label={say('Stop watching {title}', { title })}
                onClick={() => void setWatched(what, false).catch((error: Error) => notify(error.message))}
              >
                {say('Stop watching')}
              </Button>
            </li>
          );
        })}
      </ul>
    </section>
  );
}
