import type { PasswordLink, PersonView } from '@fiche/core/api';
import { say } from '@fiche/core/languages';
import Alert from '@mui/material/Alert';
import Button from '@mui/material/Button';
import TextField from '@mui/material/TextField';
import { type SyntheticEvent, useState } from 'react';
import { NO_PROBLEMS, placedProblems, useOffice } from '../client/index.ts';
import { Sheet, settingsCss, textCss, useNotify } from '../parts/index.ts';
import { PasswordLinkNote } from './PasswordLinkNote.tsx';
import personSheetCss from './personSheet.module.css';
import { RoleField } from './RoleField.tsx';
import type { usePeople } from './usePeople.ts';

interface PersonSheetProps {
  readonly person: PersonView;
  readonly people: ReturnType<typeof usePeople>;
  onClose(): void;
}

/** One of the people: role, name and e-mail, and what can be done with the account. */
export function PersonSheet({ person, people: { people, act }, onClose }: PersonSheetProps) {
  const { cabinet } = useOffice();
  const notify = useNotify();
  const [draft, setDraft] = useState({ displayName: person.displayName, email: person.email, role: person.role });
  const [problems, setProblems] = useState(NO_PROBLEMS);
  const own = person.mayManage && !person.closed;
  const changed = Object.fromEntries(
    Object.entries(draft).filter(([name, value]) => value !== person[name as keyof typeof draft]),
  );
  const save = async (event: SyntheticEvent): Promise<void> => {
    event.preventDefault();
    try {
      await act('PATCH', `/${person.login}`, changed);
      setProblems(NO_PROBLEMS);
      notify(say('Saved. It holds from the next thing that they do.'));
    } catch (error) {
      setProblems(placedProblems(error, ['displayName', 'email', 'role']));
    }
  };
  return (
    <Sheet title={person.login} onClose={onClose}>
      <form className={settingsCss.form} aria-label={person.login} noValidate onSubmit={(event) => void save(event)}>
        {person.closed && (
          <p>{say('This account is closed: nobody can sign in with it. What it wrote stays under its name.')}</p>
        )}
        <RoleField
          roles={people?.roles ?? []}
          value={draft.role}
          problem={problems.at.role}
          onChange={(role) => setDraft({ ...draft, role })}
        />
        <TextField
          label={say('Display name')}
          value={draft.displayName}
          disabled={!own}
          error={problems.at.displayName !== undefined}
          helperText={problems.at.displayName}
          onChange={(event) => setDraft({ ...draft, displayName: event.target.value })}
        />
        <TextField
          label={say('E-mail')}
          value={draft.email}
          disabled={!own}
          error={problems.at.email !== undefined}
          helperText={problems.at.email}
          onChange={(event) => setDraft({ ...draft, email: event.target.value })}
        />
        {!person.mayManage && (
          <p className={textCss.faded}>
            {say(
              '{login} belongs to another cabinet as well, whose people you do not manage. You can change the role here, and remove them from {label}.',
              { login: person.login, label: cabinet.label },
            )}
          </p>
        )}
        {problems.trouble && <Alert severity="error">{problems.trouble}</Alert>}
        <div className={settingsCss.acts}>
          <Button type="submit" variant="contained" disabled={Object.keys(changed).length === 0}>
            {say('Save')}
          </Button>
        </div>
      </form>
      <AccountActs person={person} act={act} onClose={onClose} />
    </Sheet>
  );
}

/** A new password link, closing and reopening the account, and removing it from the cabinet. */
function AccountActs({
  person,
  act,
  onClose,
}: Pick<PersonSheetProps, 'person' | 'onClose'> & Pick<PersonSheetProps['people'], 'act'>) {
  const { cabinet, session } = useOffice();
  const notify = useNotify();
  const [link, setLink] = useState<PasswordLink>();
  const [trouble, setTrouble] = useState('');
  const { login, closed, mayManage } = person;
  const run = async (work: () => Promise<unknown>): Promise<void> => {
    try {
      setTrouble('');
      await work();
    } catch (error) {
      setTrouble((error as Error).message);
    }
  };
  const setClosed = (next: boolean) => async (): Promise<void> => {
    await act('PATCH', `/${login}`, { closed: next });
    setLink(undefined);
    notify(
      next
        ? say('{login} is closed, and signed out everywhere.', { login })
        : say('{login} is open again, with the password it had.', { login }),
      next ? () => void run(setClosed(false)) : undefined,
    );
  };
  const removeFactor = async (): Promise<void> => {
    await act('DELETE', `/${login}/second-factor`);
    notify(say('{login} signs in with the password alone until they add another second factor.', { login }));
  };
  const remove = async (): Promise<void> => {
    await act('DELETE', `/${login}`);
    notify(
      say('{login} is removed from {label}.', { login, label: cabinet.label }),
      () => void run(() => act('PUT', `/${login}`, { role: person.role })),
    );
    onClose();
  };
  return (
    <div className={settingsCss.group}>
      {link && <PasswordLinkNote link={link} invited={false} />}
      <div className={personSheetCss.acts}>
        {mayManage && !closed && (
          <Button
            variant="text"
            onClick={() => void run(async () => setLink(await act<PasswordLink>('POST', `/${login}/link`, {})))}
          >
            {person.invited ? say('Create a new invitation link') : say('Create a password reset link')}
          </Button>
        )}
        {mayManage && person.secondFactor && (
          <Button variant="text" onClick={() => void run(removeFactor)}>
            {say('Remove second factor')}
          </Button>
        )}
        {mayManage && login !== session.login && (
          <Button variant="text" onClick={() => void run(setClosed(!closed))}>
            {closed ? say('Reopen account') : say('Close account')}
          </Button>
        )}
        <Button variant="text" onClick={() => void run(remove)}>
          {say('Remove from {label}', { label: cabinet.label })}
        </Button>
        {trouble && <Alert severity="error">{trouble}</Alert>}
      </div>
    </div>
  );
}
