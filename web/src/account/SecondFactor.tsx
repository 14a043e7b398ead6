import type { OwnAccount, SecondFactorSecret } from '@fiche/core/api';
import { say, sayCount } from '@fiche/core/languages';
import Alert from '@mui/material/Alert';
import Button from '@mui/material/Button';
import TextField from '@mui/material/TextField';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { clsx } from 'clsx';
import { type SyntheticEvent, useState } from 'react';
import { NO_PROBLEMS, type PlacedProblems, placedProblems, send } from '../client/index.ts';
import { Card, cardCss, settingsCss, showMoment, textCss, useNotify } from '../parts/index.ts';
import secondFactorCss from './secondFactor.module.css';

const PATH = '/api/account/second-factor';

/** What the card shows: the status, the password that has to be typed first, the secret, or the recovery codes. */
type Shown =
  | { readonly kind: 'status' }
  | { readonly kind: 'password'; readonly then: 'begin' | 'remove' }
  | { readonly kind: 'secret'; readonly secret: SecondFactorSecret }
  | { readonly kind: 'codes'; readonly codes: readonly string[] };

/** A second factor for signing in: begun with the password, confirmed by its first code. */
export function SecondFactor({ account: { secondFactor } }: { account: OwnAccount }) {
  const queries = useQueryClient();
  const notify = useNotify();
  const [shown, setShown] = useState<Shown>({ kind: 'status' });
  const readAgain = (): Promise<void> => queries.invalidateQueries({ queryKey: ['account'] });
  const withPassword = async (then: 'begin' | 'remove', password: string): Promise<void> => {
    if (then === 'begin') {
      setShown({ kind: 'secret', secret: await send<SecondFactorSecret>('POST', PATH, { password }) });
      return;
    }
    await send('DELETE', PATH, { password });
    setShown({ kind: 'status' });
    notify(say('The second factor is removed: the password alone signs you in.'));
    await readAgain();
  };
  const confirm = async (code: string): Promise<void> => {
    const { recoveryCodes } = await send<{ recoveryCodes: string[] }>('PUT', PATH, { code });
    setShown({ kind: 'codes', codes: recoveryCodes });
    await readAgain();
  };
  const cancel = (): void => setShown({ kind: 'status' });
  const leaveCodes = (): void => {
    cancel();
    // A role may have waited for it.
    void queries.invalidateQueries({ queryKey: ['session'] });
  };
  return (
    <Card title={say('Second factor')}>
      {shown.kind === 'status' && (
        <Status secondFactor={secondFactor} onAsk={(then) => setShown({ kind: 'password', then })} />
      )}
      {shown.kind === 'password' && (
        <OneLine
          label={say('Present password')}
          name="password"
          type="password"
          submit={shown.then === 'begin' ? say('Continue') : say('Remove second factor')}
          onCancel={cancel}
          onSend={(password) => withPassword(shown.then, password)}
        />
      )}
      {shown.kind === 'secret' && (
        <>
          <SecretShown secret={shown.secret} />
          <OneLine
            label={say('Code that is shown now')}
            name="code"
            submit={say('Confirm')}
            onCancel={cancel}
            onSend={confirm}
          />
        </>
      )}
      {shown.kind === 'codes' && <RecoveryCodes codes={shown.codes} onDone={leaveCodes} />}
    </Card>
  );
}

function Status({
  secondFactor: { since, recoveryCodes },
  onAsk,
}: {
  secondFactor: OwnAccount['secondFactor'];
  onAsk(then: 'begin' | 'remove'): void;
}) {
  const left = sayCount(recoveryCodes, '1 recovery code is left', '{count} recovery codes are left');
  return (
    <>
      <p className={cardCss.section}>
        {since
          ? say('Since {since} signing in asks for a code as well. {left}.', { since: showMoment(since), left })
          : say(
              'Signing in can ask for a code of an application on your phone as well: a password that somebody has seen is then not enough.',
            )}
      </p>
      <div className={cardCss.foot}>
        <div className={cardCss.end}>
          {since ? (
            <Button onClick={() => onAsk('remove')}>{say('Remove second factor')}</Button>
          ) : (
            <Button variant="contained" onClick={() => onAsk('begin')}>
              {say('Add second factor')}
            </Button>
          )}
        </div>
      </div>
    </>
  );
}

interface OneLineProps {
  readonly label: string;
  /** The path of what is typed, in the server’s problems. */
  readonly name: string;
  readonly type?: string;
  readonly submit: string;
  onCancel(): void;
  onSend(value: string): Promise<void>;
}

/** One input that is sent, with what the server says against it. */
function OneLine({ label, name, type = 'text', submit, onCancel, onSend }: OneLineProps) {
  const [value, setValue] = useState('');
  const [problems, setProblems] = useState<PlacedProblems>(NO_PROBLEMS);
  const sendIt = async (event: SyntheticEvent): Promise<void> => {
    event.preventDefault();
    try {
      await onSend(value);
    } catch (error) {
      setProblems(placedProblems(error, [name]));
    }
  };
  return (
    <form aria-label={submit} noValidate onSubmit={(event) => void sendIt(event)}>
      <div className={clsx(cardCss.section, settingsCss.form)}>
        <TextField
          autoFocus
          label={label}
          type={type}
          value={value}
          autoComplete={type === 'password' ? 'current-password' : 'one-time-code'}
          error={problems.at[name] !== undefined}
          helperText={problems.at[name]}
          onChange={(event) => setValue(event.target.value)}
        />
        {problems.trouble && <Alert severity="error">{problems.trouble}</Alert>}
      </div>
      <div className={cardCss.foot}>
        <Button variant="text" onClick={onCancel}>
          {say('Cancel')}
        </Button>
        <div className={cardCss.end}>
          <Button type="submit" variant="contained" disabled={value.trim() === ''}>
            {submit}
          </Button>
        </div>
      </div>
    </form>
  );
}

/** The secret, as a picture to scan and as text to type. */
function SecretShown({ secret: { secret, uri } }: { secret: SecondFactorSecret }) {
  const { data } = useQuery({
    queryKey: ['qr', uri],
    queryFn: async () => (await import('qrcode')).toDataURL(uri, { margin: 1, width: 180 }),
    staleTime: Infinity,
    gcTime: 0,
  });
  return (
    <div className={clsx(cardCss.section, secondFactorCss.secret)}>
      {data && <img src={data} width={180} height={180} alt={say('The secret as a QR code')} />}
      <div>
        <p>{say('Scan this with an application that makes codes by time, or type the secret into it:')}</p>
        <p className={clsx(textCss.mono, secondFactorCss.text)}>{secret.replace(/(.{4})(?=.)/g, '$1 ')}</p>
      </div>
    </div>
  );
}

/** The recovery codes, which are shown this once. */
function RecoveryCodes({ codes, onDone }: { codes: readonly string[]; onDone(): void }) {
  const file = `data:text/plain;charset=utf-8,${encodeURIComponent(`${codes.join('\n')}\n`)}`;
  return (
    <>
      <div className={cardCss.section} role="status">
        <p>
          {say(
            'The second factor counts from now on. Keep these recovery codes on paper: each signs you in once if you lose the phone. They are not shown again.',
          )}
        </p>
        <ul className={clsx(textCss.mono, secondFactorCss.codes)} aria-label={say('Recovery codes')}>
          {codes.map((code) => (
            <li key={code}>{code}</li>
          ))}
        </ul>
      </div>
      <div className={cardCss.foot}>
        <Button variant="text" href={file} download="fiche-recovery-codes.txt">
          {say('Save as a file')}
        </Button>
        <div className={cardCss.end}>
          <Button variant="contained" onClick={onDone}>
            {say('Done')}
          </Button>
        </div>
      </div>
    </>
  );
}
