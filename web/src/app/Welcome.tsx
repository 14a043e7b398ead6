import { say } from '@fiche/core/languages';
import Button from '@mui/material/Button';
import { clsx } from 'clsx';
import { type SyntheticEvent, useState } from 'react';
import { blankProblems, focusFirst, NO_PROBLEMS, placedProblems, send } from '../client/index.ts';
import { Card, cardCss, FieldInput, RuledField, textCss } from '../parts/index.ts';
import { OfficeFields, officeOfBrowser } from '../settings/index.ts';
import signInCss from './signIn.module.css';

const FIELDS = [
  {
    name: 'login',
    label: say('Login'),
    help: say('Stamped into every record you change. It never changes.'),
    autoComplete: 'username',
  },
  {
    name: 'displayName',
    label: say('Display name'),
    help: say('How colleagues see you. You may change it.'),
    autoComplete: 'name',
  },
  { name: 'password', label: say('Password'), help: say('At least 10 characters.'), autoComplete: 'new-password' },
  {
    name: 'cabinet',
    label: say('Name of the first cabinet'),
    help: say('A named group of tables and forms, such as the name of your office.'),
    autoComplete: 'organization',
  },
] as const;

/** Where the one-time link of the start command leads: makes the first administrator, who then signs in. */
export function Welcome() {
  const token = window.location.hash.slice(1);
  const [values, setValues] = useState<Record<string, string>>({});
  const [problems, setProblems] = useState({
    ...NO_PROBLEMS,
    trouble: token === '' ? say('This address is not whole. Open the one that the start command printed.') : '',
  });
  const [office, setOffice] = useState(officeOfBrowser);
  const [done, setDone] = useState(false);
  const submit = async (event: SyntheticEvent): Promise<void> => {
    event.preventDefault();
    const blank = blankProblems(values, Object.fromEntries(FIELDS.map(({ name, label }) => [name, label])));
    setProblems(blank);
    if (Object.keys(blank.at).length > 0) return focusFirst(blank);
    try {
      await send('POST', '/api/first-administrator', { token, ...values, office });
      setDone(true);
    } catch (error) {
      const placed = placedProblems(
        error,
        FIELDS.map(({ name }) => name),
      );
      setProblems(placed);
      focusFirst(placed);
    }
  };
  if (done)
    return (
      <main className={signInCss.page}>
        <Card title={say('The office is open')}>
          <div className={cardCss.section} role="status">
            <p>{say('Your account was made. The link is used up.')}</p>
            <p>
              <Button variant="contained" href="/">
                {say('Sign in')}
              </Button>
            </p>
          </div>
        </Card>
      </main>
    );
  return (
    <main className={signInCss.page}>
      <form noValidate onSubmit={(event) => void submit(event)}>
        <Card title={say('First administrator')} end={<span className={textCss.faded}>{say('Fiche')}</span>}>
          <div className={clsx(cardCss.section, signInCss.fields)}>
            {FIELDS.map(({ name, label, help, autoComplete }) => (
              <RuledField key={name} id={name} label={label} help={help} problem={problems.at[name]} required>
                <FieldInput
                  id={name}
                  type={name === 'password' ? 'password' : 'text'}
                  value={values[name] ?? ''}
                  autoComplete={autoComplete}
                  autoCapitalize="none"
                  aria-invalid={problems.at[name] !== undefined || undefined}
                  onChange={(event) => setValues({ ...values, [name]: event.target.value })}
                />
              </RuledField>
            ))}
            <OfficeFields office={office} onChange={setOffice} />
            {problems.trouble !== '' && (
              <p className={textCss.problem} role="alert">
                {problems.trouble}
              </p>
            )}
          </div>
          <div className={cardCss.foot}>
            <div className={cardCss.end}>
              <Button type="submit" variant="contained" disabled={token === ''}>
                {say('Make the account')}
              </Button>
            </div>
          </div>
        </Card>
      </form>
    </main>
  );
}
