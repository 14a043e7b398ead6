import type { PasswordLink } from '@fiche/core/api';
import { say } from '@fiche/core/languages';
import Alert from '@mui/material/Alert';
import Button from '@mui/material/Button';
import TextField from '@mui/material/TextField';
import { type SyntheticEvent, useState } from 'react';
import { blankProblems, focusFirst, NO_PROBLEMS, placedProblems } from '../client/index.ts';
import { Sheet, settingsCss } from '../parts/index.ts';
import { PasswordLinkNote } from './PasswordLinkNote.tsx';
import { RoleField } from './RoleField.tsx';
import type { usePeople } from './usePeople.ts';

const FIELDS = [
  { name: 'login', label: say('Login'), help: say('Stamped into every record they change. It never changes.') },
  { name: 'displayName', label: say('Display name'), help: say('How colleagues see them.') },
  { name: 'email', label: say('E-mail (optional)'), help: '' },
] as const;
const REQUIRED = { login: say('Login'), displayName: say('Display name'), role: 'A role' };
const idOf = (name: string): string => `invite-${name}`;

/** Invites somebody into the cabinet: an account with a role, and the link that sets its first password. */
export function InviteSheet({
  people: { people, act },
  onClose,
}: {
  people: ReturnType<typeof usePeople>;
  onClose(): void;
}) {
  const [values, setValues] = useState<Readonly<Record<string, string>>>({});
  const [problems, setProblems] = useState(NO_PROBLEMS);
  const [link, setLink] = useState<PasswordLink>();
  const invite = async (event: SyntheticEvent): Promise<void> => {
    event.preventDefault();
    const refuse = (found: typeof problems): void => {
      setProblems(found);
      focusFirst(found, idOf);
    };
    const blank = blankProblems(values, REQUIRED);
    if (Object.keys(blank.at).length > 0) return refuse(blank);
    try {
      setLink(await act<PasswordLink>('POST', '', values));
      setValues({ role: values.role ?? '' });
      setProblems(NO_PROBLEMS);
    } catch (error) {
      refuse(placedProblems(error, [...FIELDS.map((one) => one.name), 'role']));
    }
  };
  if (link)
    return (
      <Sheet title={say('Invite somebody')} onClose={onClose}>
        <PasswordLinkNote link={link} invited />
        <div className={settingsCss.acts}>
          <Button variant="text" onClick={() => setLink(undefined)}>
            {say('Invite somebody else')}
          </Button>
        </div>
      </Sheet>
    );
  return (
    <Sheet title={say('Invite somebody')} onClose={onClose}>
      <form
        className={settingsCss.form}
        aria-label={say('Invite somebody')}
        noValidate
        onSubmit={(event) => void invite(event)}
      >
        {FIELDS.map(({ name, label, help }, at) => (
          <TextField
            key={name}
            id={idOf(name)}
            autoFocus={at === 0}
            label={label}
            value={values[name] ?? ''}
            autoComplete="off"
            error={problems.at[name] !== undefined}
            helperText={problems.at[name] ?? help}
            slotProps={{ htmlInput: { autoCapitalize: 'none' } }}
            onChange={(event) => setValues({ ...values, [name]: event.target.value })}
          />
        ))}
        <RoleField
          id={idOf('role')}
          roles={people?.roles ?? []}
          value={values.role ?? ''}
          problem={problems.at.role}
          onChange={(role) => setValues({ ...values, role })}
        />
        {problems.trouble && <Alert severity="error">{problems.trouble}</Alert>}
        <div className={settingsCss.acts}>
          <Button type="submit" variant="contained">
            {say('Create link')}
          </Button>
        </div>
      </form>
    </Sheet>
  );
}
