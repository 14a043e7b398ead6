import { say } from '@fiche/core/languages';
import Alert from '@mui/material/Alert';
import Button from '@mui/material/Button';
import { type SyntheticEvent, useState } from 'react';
import { SelectField, Sheet, settingsCss, useNotify } from '../parts/index.ts';
import { RoleField } from './RoleField.tsx';
import type { usePeople } from './usePeople.ts';

/** Gives somebody who works in another cabinet a role in this one. */
export function AddPersonSheet({
  people: { people, act },
  onClose,
}: {
  people: ReturnType<typeof usePeople>;
  onClose(): void;
}) {
  const notify = useNotify();
  const [login, setLogin] = useState('');
  const [role, setRole] = useState('');
  const [trouble, setTrouble] = useState('');
  const add = async (event: SyntheticEvent): Promise<void> => {
    event.preventDefault();
    try {
      await act('PUT', `/${login}`, { role });
      notify(say('{login} is in this cabinet now.', { login }));
      onClose();
    } catch (error) {
      setTrouble((error as Error).message);
    }
  };
  return (
    <Sheet title={say('From another cabinet')} onClose={onClose}>
      <form className={settingsCss.form} aria-label={say('From another cabinet')} onSubmit={(event) => void add(event)}>
        <SelectField
          label={say('Account')}
          value={login}
          autoFocus
          options={[
            { value: '', label: say('choose an account') },
            ...(people?.others ?? []).map((one) => ({ value: one.login, label: `${one.login} · ${one.displayName}` })),
          ]}
          onChange={setLogin}
        />
        <RoleField roles={people?.roles ?? []} value={role} onChange={setRole} />
        {trouble && <Alert severity="error">{trouble}</Alert>}
        <div className={settingsCss.acts}>
          <Button type="submit" variant="contained" disabled={login === '' || role === ''}>
            {say('Add to this cabinet')}
          </Button>
        </div>
      </form>
    </Sheet>
  );
}
