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
  const { may, cabinet } = useOffice();
  const notify = useNotify();
  const [label, setLabel] = useState(view?.label ?? '');
  const [shared, setShared] = useState(view?.shared ?? false);
  const [roles, setRoles] = useState<readonly string[]>(view?.roles ?? []);
  const [opens, setOpens] = useState(view?.opens ?? false);
  const [home, setHome] = useState(view?.home ?? false);
  const [problems, setProblems] = useState(NO_PROBLEMS);
  const save = async (event: SyntheticEvent): Promise<void> => {
    event.preventDefault();
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
  const remove = async (): Promise<void> => {
    if (!view) return;
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
          <div>
            <CheckField label={say('Share it with others in the cabinet')} checked={shared} onChange={setShared} />
            {shared && (
              <FormControl component="fieldset" className={listingCss.roles}>
                <FormLabel component="legend">{say('Only for these roles (none chosen: for all)')}</FormLabel>
                {cabinet.roles.map((role) => (
                  <CheckField
                    key={role.id}
                    label={role.label}
                    checked={roles.includes(role.id)}
                    onChange={(on) => setRoles(on ? [...roles, role.id] : roles.filter((one) => one !== role.id))}
                  />
                ))}
              </FormControl>
            )}
            <CheckField
              label={say('The table opens on it')}
              checked={shared && opens}
              disabled={!shared}
              onChange={setOpens}
            />
            <CheckField
              label={say('Show it on everybody’s Home')}
              checked={shared && home}
              disabled={!shared}
              onChange={setHome}
            />
          </div>
        ) : (
          <p className={textCss.faded}>{say('It is yours alone. Whoever builds can share views with everybody.')}</p>
        )}
        {problems.trouble && <Alert severity="error">{problems.trouble}</Alert>}
        <div className={settingsCss.acts}>
          <Button type="submit" variant="contained">
            {say('Save view')}
          </Button>
          {view && !may('build') && (
            <Button variant="text" onClick={() => void remove()}>
              {say('Delete view')}
            </Button>
          )}
          {view && may('build') && (
            <AskedAct
              label={say('Delete view')}
              thing={{ view: view.id }}
              refusedBy={['form']}
              act={() => void remove()}
            />
          )}
        </div>
      </form>
      {view && <WhereUsed thing={{ view: view.id }} />}
    </Sheet>
  );
}
