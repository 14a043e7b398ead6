import type { SessionView } from '@fiche/core/api';
import { say } from '@fiche/core/languages';
import Button from '@mui/material/Button';
import { useQueryClient } from '@tanstack/react-query';
import { clsx } from 'clsx';
import { type SyntheticEvent, useState } from 'react';
import { placedProblems, send } from '../client/index.ts';
import { Card, cardCss, FieldInput, RuledField, textCss } from '../parts/index.ts';
import signInCss from './signIn.module.css';

/** Signing in with login and password and, where the account has one, the code of its second factor. */
export function SignIn({ samples }: { samples: SessionView['samples'] }) {
  const queries = useQueryClient();
  const [login, setLogin] = useState('');
  const [password, setPassword] = useState('');
  /** Asked for once the server has said that the account has a second factor. */
  const [code, setCode] = useState<string>();
  const [trouble, setTrouble] = useState('');
  const signIn = async (as: { login: string; password: string; code?: string }): Promise<void> => {
    setTrouble('');
    try {
      const session = await send<SessionView>('POST', '/api/session', as);
      // What was asked before signing in says nothing of it.
      await queries.cancelQueries({ queryKey: ['session'] });
      queries.setQueryData(['session'], session);
    } catch (error) {
      const asksForCode = placedProblems(error, ['code']).at.code !== undefined;
      setCode(asksForCode ? (as.code ?? '') : undefined);
      // The first time, the code was not asked for yet: nothing is wrong.
      if (!asksForCode || as.code !== undefined) setTrouble((error as Error).message);
    }
  };
  const submit = (event: SyntheticEvent): void => {
    event.preventDefault();
    void signIn({ login, password, code });
  };
  return (
    <main className={signInCss.page}>
      <form onSubmit={submit}>
        <Card title={say('Fiche')} end={<span className={textCss.faded}>{say('Sign in')}</span>}>
          <div className={clsx(cardCss.section, signInCss.fields)}>
            <RuledField id="login" label={say('Login')}>
              <FieldInput
                id="login"
                value={login}
                autoComplete="username"
                autoCapitalize="none"
                onChange={(event) => setLogin(event.target.value)}
              />
            </RuledField>
            <RuledField
              id="password"
              label={say('Password')}
              problem={code === undefined ? trouble || undefined : undefined}
            >
              <FieldInput
                id="password"
                type="password"
                value={password}
                autoComplete="current-password"
                aria-invalid={(code === undefined && trouble !== '') || undefined}
                onChange={(event) => setPassword(event.target.value)}
              />
            </RuledField>
            {code !== undefined && <CodeField code={code} trouble={trouble} onChange={setCode} />}
          </div>
          <div className={cardCss.foot}>
            <div className={cardCss.end}>
              <Button type="submit" variant="contained">
                {say('Sign in')}
              </Button>
            </div>
          </div>
        </Card>
      </form>
      {samples.length > 0 && <SampleAccounts samples={samples} onSignIn={signIn} />}
    </main>
  );
}

/** The code of the second factor, once the server has asked for it. */
const CodeField = ({ code, trouble, onChange }: { code: string; trouble: string; onChange(code: string): void }) => (
  <RuledField
    id="code"
    label={say('Code')}
    help={say('The one that your second factor shows now, or a recovery code.')}
    problem={trouble || undefined}
  >
    <FieldInput
      id="code"
      autoFocus
      value={code}
      autoComplete="one-time-code"
      aria-invalid={trouble !== '' || undefined}
      onChange={(event) => onChange(event.target.value)}
    />
  </RuledField>
);

interface SampleAccountsProps {
  readonly samples: SessionView['samples'];
  onSignIn(as: { login: string; password: string }): Promise<void>;
}

/** The people of the sample office, as any of whom one can look around. */
const SampleAccounts = ({ samples, onSignIn }: SampleAccountsProps) => (
  <section className={signInCss.samples} aria-label={say('Sample accounts')}>
    <p className={textCss.faded}>{say('This is the sample office. Sign in as one of its people:')}</p>
    <ul>
      {samples.map(({ login, password, about }) => (
        <li key={login}>
          <Button variant="text" className={textCss.mono} onClick={() => void onSignIn({ login, password })}>
            {login}
          </Button>{' '}
          <span className={textCss.faded}>{about}</span>
        </li>
      ))}
    </ul>
  </section>
);
