import type { UsesView } from '@fiche/core/api';
import { say, sayCount } from '@fiche/core/languages';
import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import { useState } from 'react';
import { Link } from 'react-router-dom';
import { useOffice } from '../client/index.ts';
import { settingsCss, textCss, useNotify } from '../parts/index.ts';
import usesCss from './uses.module.css';
import { type AskedThing, askUses, useUses } from './useUses.ts';

const PLACES = {
  form: say('Form'),
  table: say('Table'),
  view: say('View'),
  role: say('Role'),
  labels: say('Labels'),
  calendar: say('Calendar'),
} as const;

/** Where something is used, as a part of its settings: before it is renamed, changed or taken out of use. */
export function WhereUsed({ thing, holding }: { readonly thing: AskedThing; readonly holding?: string }) {
  const { may } = useOffice();
  const { data, error } = useUses(thing);
  if (!may('build')) return null;
  return (
    <section className={settingsCss.group} aria-label={say('Where used')}>
      <h3>{say('Where used')}</h3>
      {error && <p className={textCss.problem}>{error.message}</p>}
      {data && <UseLines {...data} holding={holding} />}
    </section>
  );
}

/** The places, each with what it is used for there and the way to it. `holding` says what records do: `have a value in it`. */
function UseLines({ uses, records, holding }: UsesView & { readonly holding: string | undefined }) {
  return (
    <>
      {uses.length === 0 && (
        <p className={textCss.faded}>{say('No form, table, view, role, labels or calendar uses it.')}</p>
      )}
      <Uses uses={uses} />
      {holding !== undefined && records !== null && (
        <p className={textCss.faded}>
          {records === 0
            ? say('No record {holding}.', { holding })
            : `${sayCount(records, '{count} record', '{count} records')} ${holding}.`}
        </p>
      )}
    </>
  );
}

/** Places where something is used, each with what for and the way to it. */
export function Uses({ uses }: Pick<UsesView, 'uses'>) {
  const { cabinet } = useOffice();
  return (
    <ul className={usesCss.uses}>
      {uses.map(({ place, words }) => (
        <li key={`${place.kind} ${place.id}`}>
          <span className={textCss.faded}>{PLACES[place.kind]}</span>{' '}
          <Link to={`/${cabinet.id}/${addressOf(place)}`}>{place.label}</Link>
          <span className={textCss.faded}>: {words.join(', ')}</span>
        </li>
      ))}
    </ul>
  );
}

const addressOf = ({ kind, id, table }: UsesView['uses'][number]['place']): string =>
  ({
    form: `forms/${id}/edit`,
    table: `tables/${id}?fields`,
    view: `tables/${table}?view=${id}`,
    role: `people/roles/${id}`,
    labels: `tables/${table}`,
    calendar: `tables/${table}`,
  })[kind];

interface AskedActProps {
  /** What the button says: `Archive field`. */
  readonly label: string;
  readonly thing: AskedThing;
  readonly holding?: string;
  /** The kinds of places in which a use stands against it: the server refuses until it is taken out there. */
  readonly refusedBy?: readonly UsesView['uses'][number]['place']['kind'][];
  act(): void;
}

/** Takes something out of use; where it is used, that is shown first, and asked about. */
export function AskedAct({ label, thing, holding, refusedBy = [], act }: AskedActProps) {
  const { cabinet } = useOffice();
  const notify = useNotify();
  const [found, setFound] = useState<UsesView>();
  const ask = async (): Promise<void> => {
    try {
      const uses = await askUses(cabinet.id, thing);
      if (uses.uses.length === 0) act();
      else setFound(uses);
    } catch (error) {
      notify((error as Error).message);
    }
  };
  if (!found)
    return (
      <Button variant="text" color="error" onClick={() => void ask()}>
        {label}
      </Button>
    );
  const refused = found.uses.some(({ place }) => refusedBy.includes(place.kind));
  return (
    <section className={usesCss.asked} role="alertdialog" aria-label={say('{label}: it is used', { label })}>
      <strong>{sayCount(found.uses.length, 'It is used:', 'It is used in {count} places:')}</strong>
      <UseLines {...found} holding={holding} />
      {refused && <p>{say('This is possible once it is not used there any more.')}</p>}
      <p className={usesCss.acts}>
        {!refused && (
          <Button
            color="error"
            onClick={() => {
              setFound(undefined);
              act();
            }}
          >
            {say('{label} all the same', { label })}
          </Button>
        )}
        <Button variant="text" autoFocus onClick={() => setFound(undefined)}>
          {say('Leave it')}
        </Button>
      </p>
    </section>
  );
}

/** Asks about something that is used, over a menu that has no room for it. */
export function UsedDialog({
  label,
  uses,
  act,
  onClose,
}: {
  readonly label: string;
  readonly uses: UsesView;
  act(): void;
  onClose(): void;
}) {
  return (
    <Dialog open onClose={onClose} aria-label={say('{label}: it is used', { label })}>
      <DialogTitle>{say('{label}: it is used', { label })}</DialogTitle>
      <DialogContent>
        <UseLines {...uses} holding={undefined} />
      </DialogContent>
      <DialogActions>
        <Button variant="text" onClick={onClose}>
          {say('Leave it')}
        </Button>
        <Button color="error" onClick={act}>
          {say('{label} all the same', { label })}
        </Button>
      </DialogActions>
    </Dialog>
  );
}
