import { say } from '@fiche/core/languages';
import type { Office } from '@fiche/core/office';
import Button from '@mui/material/Button';
import TextField from '@mui/material/TextField';
import { useQueryClient } from '@tanstack/react-query';
import { clsx } from 'clsx';
import { useState } from 'react';
import { Link } from 'react-router-dom';
import { send, useOffice } from '../client/index.ts';
import { Card, cardCss, pageCss, textCss, useNotify } from '../parts/index.ts';
import { OfficeFields } from './OfficeFields.tsx';
import settingsPageCss from './settingsPage.module.css';

/** What holds for all cabinets: where the office is and how it writes. */
export function SettingsPage() {
  const { cabinet, session, may } = useOffice();
  const queries = useQueryClient();
  const notify = useNotify();
  const [office, setOffice] = useState(session.office);
  const [saving, setSaving] = useState(false);
  const changed = JSON.stringify(office) !== JSON.stringify(session.office);
  const save = async (): Promise<void> => {
    setSaving(true);
    try {
      await send<Office>('PUT', `/api/cabinets/${cabinet.id}/office`, office);
      // Everything that is on the screen was written in the old way.
      await queries.invalidateQueries();
      notify(say('Saved. It holds for everybody from now on.'));
    } catch (error) {
      notify((error as Error).message);
    } finally {
      setSaving(false);
    }
  };
  return (
    <div className={clsx(pageCss.body, settingsPageCss.settings)}>
      <div className={pageCss.head}>
        <h1>{say('Settings')}</h1>
      </div>
      <CabinetSettings />
      {may('outbox') && (
        <Card title={say('Messages')}>
          <div className={cardCss.section}>
            {say(
              'Invitations, links for passwords and notices by mail stand in the outbox: what was sent, and what failed and why.',
            )}
          </div>
          <div className={cardCss.foot}>
            <Button variant="text" component={Link} to={`/${cabinet.id}/outbox`}>
              {say('Open the outbox')}
            </Button>
          </div>
        </Card>
      )}
      {may('build') && (
        <Card title={say('Operation')}>
          <div className={cardCss.section}>
            {say('Backups, seals, size and growth, work in the background: how this installation does.')}
          </div>
          <div className={cardCss.foot}>
            <Button variant="text" component={Link} to={`/${cabinet.id}/settings/operation`}>
              {say('See how it does')}
            </Button>
          </div>
        </Card>
      )}
      <Card title={say('Office')}>
        <div className={cardCss.section}>
          <p className={textCss.faded}>
            {session.officeIsSet
              ? say('For all cabinets of this installation.')
              : say(
                  'Nobody has chosen these yet: the time zone is the server’s. They hold for all cabinets of this installation.',
                )}
          </p>
          <div className={settingsPageCss.fields}>
            <OfficeFields office={office} disabled={!may('build')} onChange={setOffice} />
          </div>
          {!may('build') && <p className={textCss.faded}>{say('Who may build forms can change these.')}</p>}
        </div>
        {may('build') && (
          <div className={cardCss.foot}>
            <div className={cardCss.end}>
              <Button
                variant="contained"
                disabled={saving || (!changed && session.officeIsSet)}
                onClick={() => void save()}
              >
                {say('Save office')}
              </Button>
            </div>
          </div>
        )}
      </Card>
    </div>
  );
}

/** What the open cabinet is called and about, and taking it out of use. */
function CabinetSettings() {
  const { cabinet, may } = useOffice();
  const queries = useQueryClient();
  const notify = useNotify();
  const [label, setLabel] = useState(cabinet.label);
  const [description, setDescription] = useState(cabinet.description);
  const builds = may('build');
  const changed = label !== cabinet.label || description !== cabinet.description;
  const change = async (body: object, done: string, undo?: () => void): Promise<void> => {
    try {
      await send('PATCH', `/api/cabinets/${cabinet.id}`, body);
      await queries.invalidateQueries();
      notify(done, undo);
    } catch (error) {
      notify((error as Error).message);
    }
  };
  const archive = (archived: boolean): Promise<void> =>
    change(
      { archived },
      archived
        ? say('{label} is archived: nothing is written into it, and its public pages are closed.', {
            label: cabinet.label,
          })
        : say('{label} is back in use.', { label: cabinet.label }),
      archived ? () => void archive(false) : undefined,
    );
  return (
    <Card title={say('Cabinet')} mark={<span className={clsx(textCss.mono, textCss.faded)}>{cabinet.id}</span>}>
      <div className={clsx(cardCss.section, settingsPageCss.fields)}>
        <TextField
          label={say('Name')}
          value={label}
          disabled={!builds}
          onChange={(event) => setLabel(event.target.value)}
        />
        <TextField
          label={say('Description')}
          multiline
          maxRows={4}
          value={description}
          disabled={!builds}
          placeholder={builds ? say('What this cabinet is for') : undefined}
          onChange={(event) => setDescription(event.target.value)}
        />
      </div>
      {builds && (
        <div className={cardCss.foot}>
          <Button variant="text" onClick={() => void archive(!cabinet.archived)}>
            {cabinet.archived ? say('Restore cabinet') : say('Archive cabinet')}
          </Button>
          <div className={cardCss.end}>
            <Button
              variant="contained"
              disabled={!changed}
              onClick={() => void change({ label, description }, say('Saved.'))}
            >
              {say('Save cabinet')}
            </Button>
          </div>
        </div>
      )}
    </Card>
  );
}
