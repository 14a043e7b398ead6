import type { ViewView } from '@fiche/core/api';
import { say } from '@fiche/core/languages';
import type { Listing } from '@fiche/core/views';
import Alert from '@mui/material/Alert';
import Button from '@mui/material/Button';
import FormControl from '@mui/material/FormControl';
import FormLabel from '@mui/material/FormLabel';
import TextField from '@mui/material/TextField';
import { type SyntheticEvent, useState } from 'react';
import { focusFirst, NO_PROBLEMS, placedProblems, useOffice } from '../client/index.ts';
import { CheckField, Sheet, settingsCss, textCss, useNotify } from '../parts/index.ts';
import { AskedAct, WhereUsed } from '../uses/index.ts';
import listingCss from './listing.module.css';
import type { useViews } from './useViews.ts';

interface Props {
  /** The view that is changed; a new one without. */
  readonly view?: ViewView;
  readonly listing: Listing;
  readonly views: ReturnType<typeof useViews>;
  onSaved(view: ViewView): void;
  onDeleted(): void;
  onClose(): void;
}

/** Names a view and says who has it: a new one out of what the list shows, or the settings of one that is there. */
export function ViewSheet({ view, listing, views, onSaved, onDeleted, onClose }: Props) {
  const { may } = useOffice();
  const notify = useNotify();
  const [label, setLabel] = useState(view?.label ?? '');
  const [sharing, setSharing] = useState<Sharing>({
    shared: view?.shared ?? false,
    roles: view?.roles ?? [],
    opens: view?.opens ?? false,
    home: view?.home ?? false,
  });
  const [problems, setProblems] = useState(NO_PROBLEMS);
  const save = async (event: SyntheticEvent): Promise<void> => {
    event.preventDefault();
    const { shared, roles, opens, home } = sharing;
    const definition = {
      label,
      ...listing,
      shared,
      roles: shared && roles.length > 0 ? [...roles] : null,
      opens: shared && opens,
      home: shared && home,
    };
    try {
      const saved = await (view ? views.change(view, definition) : views.create(definition));
      notify(say('The view {label} is saved.', { label: saved.label }));
      onSaved(saved);
    } catch (error) {
      const found = placedProblems(error, ['definition.label']);
      setProblems(found);
      focusFirst(found, () => 'view-label');
    }
  };
  return (
    <Sheet title={view ? say('View') : say('Save as a view')} onClose={onClose}>
      <form className={settingsCss.form} aria-label={say('View')} noValidate onSubmit={(event) => void save(event)}>
        <TextField
          id="view-label"
          autoFocus
          label={say('Name')}
          value={label}
          autoComplete="off"
          error={problems.at['definition.label'] !== undefined}
          helperText={problems.at['definition.label'] ?? say('Such as Overdue stays.')}
          onChange={(event) => setLabel(event.target.value)}
        />
        {may('build') ? (
          <SharingPart sharing={sharing} onChange={(next) => setSharing({ ...sharing, ...next })} />
        ) : (
          <p className={textCss.faded}>{say('It is yours alone. Whoever builds can share views with everybody.')}</p>
        )}
        {problems.trouble && <Alert severity="error">{problems.trouble}</Alert>}
        <div className={settingsCss.acts}>
          <Button type="submit" variant="contained">
            {say('Save view')}
          </Button>
          {view && <DeleteView {...{ view, views, onSaved, onDeleted }} />}
        </div>
      </form>
      {view && <WhereUsed thing={{ view: view.id }} />}
    </Sheet>
  );
}

/** With whom a view is shared; without roles with everybody in the cabinet. */
interface Sharing {
  readonly shared: boolean;
  readonly roles: readonly string[];
  readonly opens: boolean;
  readonly home: boolean;
}

/** Who has a view, whether the table opens on it, and whether it is on Home. */
function SharingPart({ sharing, onChange }: { readonly sharing: Sharing; onChange(next: Partial<Sharing>): void }) {
  const { cabinet } = useOffice();
  const { shared, roles, opens, home } = sharing;
  return (
    <div>
      <CheckField
        label={say('Share it with others in the cabinet')}
        checked={shared}
        onChange={(on) => onChange({ shared: on })}
      />
      {shared && (
        <FormControl component="fieldset" className={listingCss.roles}>
          <FormLabel component="legend">{say('Only for these roles (none chosen: for all)')}</FormLabel>
          {cabinet.roles.map((role) => (
            <CheckField
              key={role.id}
              label={role.label}
              checked={roles.includes(role.id)}
              onChange={(on) => onChange({ roles: on ? [...roles, role.id] : roles.filter((one) => one !== role.id) })}
            />
          ))}
        </FormControl>
      )}
      <CheckField
        label={say('The table opens on it')}
        checked={shared && opens}
        disabled={!shared}
        onChange={(on) => onChange({ opens: on })}
      />
      <CheckField
        label={say('Show it on everybody’s Home')}
        checked={shared && home}
        disabled={!shared}
        onChange={(on) => onChange({ home: on })}
      />
    </div>
  );
}

/** Deletes a view, which can be undone. */
function DeleteView({
  view,
  views,
  onSaved,
  onDeleted,
}: Pick<Props, 'views' | 'onSaved' | 'onDeleted'> & { readonly view: ViewView }) {
  const { may } = useOffice();
  const notify = useNotify();
  const remove = async (): Promise<void> => {
    const {
      id: _id,
      owner: _owner,
      revision: _revision,
      mayChange: _mayChange,
      problem: _problem,
      ...definition
    } = view;
    try {
      await views.remove(view);
      notify(say('The view {label} is deleted.', { label: view.label }), () =>
        views.create(definition).then(onSaved, (error: Error) => notify(error.message)),
      );
      onDeleted();
    } catch (error) {
      notify((error as Error).message);
    }
  };
  return may('build') ? (
    <AskedAct label={say('Delete view')} thing={{ view: view.id }} refusedBy={['form']} act={() => void remove()} />
  ) : (
    <Button variant="text" onClick={() => void remove()}>
      {say('Delete view')}
    </Button>
  );
}
