import type { OwnAccount } from '@fiche/core/api';
import { say } from '@fiche/core/languages';
import Alert from '@mui/material/Alert';
import Button from '@mui/material/Button';
import TextField from '@mui/material/TextField';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { clsx } from 'clsx';
import { type ReactNode, useState } from 'react';
import { blankProblems, focusFirst, NO_PROBLEMS, placedProblems, send } from '../client/index.ts';
import { NoticeSettings } from '../messages/index.ts';
import {
  Card,
  cardCss,
  pageCss,
  sayWith,
  settingsCss,
  showMoment,
  textCss,
  useNotify,
  Waiting,
} from '../parts/index.ts';
import accountPageCss from './accountPage.module.css';
import { ScreenLanguage } from './ScreenLanguage.tsx';
import { SecondFactor } from './SecondFactor.tsx';

/** One’s own account: how colleagues see it, its password, and where one is signed in. */
export function AccountPage({ before }: { readonly before?: ReactNode }) {
  const { data, error } = useQuery({ queryKey: ['account'], queryFn: () => send<OwnAccount>('GET', '/api/account') });
  if (error)
    return (
      <p className={pageCss.empty} role="alert">
        {error.message}
      </p>
    );
  if (!data) return <Waiting what={say('Opening your account…')} />;
  return (
    <div className={clsx(pageCss.body, accountPageCss.page)}>
      <div className={pageCss.head}>
        <h1>{say('Your account')}</h1>
      </div>
      {before}
      {before !== undefined && <SecondFactor account={data} />}
      <Names account={data} />
      <NewPassword />
      {before === undefined && <SecondFactor account={data} />}
      {before === undefined && <ScreenLanguage />}
      {before === undefined && <NoticeSettings account={data} />}
      <Sessions account={data} />
    </div>
  );
}

function Names({ account }: { account: OwnAccount }) {
  const queries = useQueryClient();
  const notify = useNotify();
  const [draft, setDraft] = useState({ displayName: account.displayName, email: account.email });
  const [problems, setProblems] = useState(NO_PROBLEMS);
  const changed = draft.displayName !== account.displayName || draft.email !== account.email;
  const save = async (): Promise<void> => {
    try {
      await send('PATCH', '/api/account', draft);
      setProblems(NO_PROBLEMS);
      await queries.invalidateQueries();
      notify(say('Saved.'));
    } catch (error) {
      setProblems(placedProblems(error, Object.keys(draft)));
    }
  };
  return (
    <Card title={say('Name')} mark={<span className={clsx(textCss.mono, textCss.faded)}>{account.login}</span>}>
      <div className={clsx(cardCss.section, settingsCss.form)}>
        {(['displayName', 'email'] as const).map((name) => (
          <TextField
            key={name}
            label={name === 'email' ? say('E-mail') : say('Display name')}
            value={draft[name]}
            autoComplete={name === 'email' ? 'email' : 'name'}
            error={problems.at[name] !== undefined}
            helperText={problems.at[name]}
            onChange={(event) => setDraft({ ...draft, [name]: event.target.value })}
          />
        ))}
        {problems.trouble && <Alert severity="error">{problems.trouble}</Alert>}
      </div>
      <div className={cardCss.foot}>
        <div className={cardCss.end}>
          <Button variant="contained" disabled={!changed} onClick={() => void save()}>
            {say('Save name')}
          </Button>
        </div>
      </div>
    </Card>
  );
}

const PASSWORDS = { present: say('Present password'), password: say('New password') };

function NewPassword() {
  const queries = useQueryClient();
  const notify = useNotify();
  const [values, setValues] = useState<Readonly<Record<string, string>>>({});
  const [problems, setProblems] = useState(NO_PROBLEMS);
  const refuse = (found: typeof problems): void => {
    setProblems(found);
    focusFirst(found);
  };
  const change = async (): Promise<void> => {
    const blank = blankProblems(values, PASSWORDS);
    if (Object.keys(blank.at).length > 0) return refuse(blank);
    try {
      await send('PUT', '/api/account/password', values);
      setValues({});
      setProblems(NO_PROBLEMS);
      await queries.invalidateQueries({ queryKey: ['account'] });
      notify(say('The password is changed. Everywhere else you are signed out.'));
    } catch (error) {
      refuse(placedProblems(error, Object.keys(PASSWORDS)));
    }
  };
  return (
    <Card title={say('Password')}>
      <form
        className={clsx(cardCss.section, settingsCss.form)}
        aria-label={say('Change password')}
        id="change-password"
        noValidate
        onSubmit={(event) => {
          event.preventDefault();
          void change();
        }}
      >
        {Object.entries(PASSWORDS).map(([name, label]) => (
          <TextField
            key={name}
            id={name}
            type="password"
            label={label}
            value={values[name] ?? ''}
            autoComplete={name === 'present' ? 'current-password' : 'new-password'}
            error={problems.at[name] !== undefined}
            helperText={problems.at[name] ?? (name === 'password' ? say('At least 10 characters.') : undefined)}
            onChange={(event) => setValues({ ...values, [name]: event.target.value })}
          />
        ))}
        {problems.trouble && <Alert severity="error">{problems.trouble}</Alert>}
      </form>
      <div className={cardCss.foot}>
        <div className={cardCss.end}>
          <Button variant="contained" type="submit" form="change-password">
            {say('Change password')}
          </Button>
        </div>
      </div>
    </Card>
  );
}

function Sessions({ account }: { account: OwnAccount }) {
  const queries = useQueryClient();
  const notify = useNotify();
  const end = async (path: string): Promise<void> => {
    try {
      await send('DELETE', `/api/account/sessions${path}`);
      notify(path === '' ? say('Everywhere else you are signed out.') : say('That session has ended.'));
    } catch (error) {
      notify((error as Error).message);
    }
    await queries.invalidateQueries({ queryKey: ['account'] });
  };
  return (
    <Card title={say('Where you are signed in')}>
      <div className={cardCss.section}>
        <ul className={accountPageCss.sessions} aria-label={say('Where you are signed in')}>
          {account.sessions.map((one) => (
            <li key={one.id}>
              <span>
                {one.device || say('Unknown device')}
                {one.current && <strong> {say('· here')}</strong>}
                <br />
                <span className={textCss.faded}>
                  {sayWith('since {started}, from {more}{current}', {
                    started: showMoment(one.started),
                    more: <span className={textCss.mono}>{one.address}</span>,
                    current: !one.current && say(', last used {seen}', { seen: showMoment(one.seen) }),
                  })}
                </span>
              </span>
              {!one.current && (
                <Button variant="text" onClick={() => void end(`/${one.id}`)}>
                  {say('Sign out there')}
                </Button>
              )}
            </li>
          ))}
        </ul>
      </div>
      {account.sessions.length > 1 && (
        <div className={cardCss.foot}>
          <Button variant="text" onClick={() => void end('')}>
            {say('Sign out everywhere else')}
          </Button>
        </div>
      )}
    </Card>
  );
}
