import { say } from '@fiche/core/languages';
import Button from '@mui/material/Button';
import TextField from '@mui/material/TextField';
import { useQuery } from '@tanstack/react-query';
import { clsx } from 'clsx';
import { type SyntheticEvent, useState } from 'react';
import { NO_PROBLEMS, placedProblems, send } from '../client/index.ts';
import { Card, cardCss, settingsCss, textCss, Waiting } from '../parts/index.ts';
import passwordPageCss from './passwordPage.module.css';

interface Linked {
  readonly login: string;
  readonly displayName: string;
  readonly invited: boolean;
}

/** Where a one-time link leads: somebody who was invited, or who forgot it, sets a password. */
export function PasswordPage() {
  const [token] = useState(() => window.location.hash.slice(1));
  const { data, error } = useQuery({
    queryKey: ['password-link', token],
    queryFn: () => send<Linked>('POST', '/api/password-link', { token }),
    enabled: token !== '',
    retry: false,
    staleTime: Infinity,
  });
  const [done, setDone] = useState(false);
  const trouble = token === '' ? say('This address is not whole. Open the link as it was sent.') : error?.message;
  return (
    <main className={passwordPageCss.page}>
      {trouble ? (
        <Card title={say('Set a password')}>
          <p className={clsx(cardCss.section, textCss.problem)} role="alert">
            {trouble}
          </p>
        </Card>
      ) : done ? (
        <Card title={say('Your password is set')}>
          <div className={cardCss.section} role="status">
            <p>{say('The link is used up. Wherever you were signed in before, you are signed out.')}</p>
            <p>
              <Button variant="contained" href="/">
                {say('Sign in')}
              </Button>
            </p>
          </div>
        </Card>
      ) : data ? (
        <ChoosePassword token={token} account={data} onDone={() => setDone(true)} />
      ) : (
        <Waiting what={say('Reading the link…')} />
      )}
    </main>
  );
}

function ChoosePassword({ token, account, onDone }: { token: string; account: Linked; onDone(): void }) {
  const [password, setPassword] = useState('');
  const [problems, setProblems] = useState(NO_PROBLEMS);
  const submit = async (event: SyntheticEvent): Promise<void> => {
    event.preventDefault();
    try {
      await send('POST', '/api/password', { token, password });
      onDone();
    } catch (error) {
      setProblems(placedProblems(error, ['password']));
      document.getElementById('password')?.focus();
    }
  };
  return (
    <form noValidate onSubmit={(event) => void submit(event)}>
      <Card
        title={
          account.invited ? say('Welcome, {displayName}', { displayName: account.displayName }) : say('A new password')
        }
        end={<span className={textCss.faded}>{say('Fiche')}</span>}
      >
        <div className={clsx(cardCss.section, settingsCss.form)}>
          <TextField
            id="login"
            label={say('Login')}
            value={account.login}
            autoComplete="username"
            helperText={say('What you sign in with. It never changes.')}
            slotProps={{ htmlInput: { readOnly: true, className: textCss.mono } }}
          />
          <TextField
            id="password"
            autoFocus
            type="password"
            label={say('Password')}
            value={password}
            autoComplete="new-password"
            error={problems.at.password !== undefined}
            helperText={problems.at.password ?? say('At least 10 characters.')}
            onChange={(event) => setPassword(event.target.value)}
          />
          {problems.trouble && (
            <p className={textCss.problem} role="alert">
              {problems.trouble}
            </p>
          )}
        </div>
        <div className={cardCss.foot}>
          <div className={cardCss.end}>
            <Button type="submit" variant="contained">
              {say('Set the password')}
            </Button>
          </div>
        </div>
      </Card>
    </form>
  );
}
