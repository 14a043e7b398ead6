import type { Office } from '@fiche/core/office';
import Button from '@mui/material/Button';
import { useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { send, useOffice } from '../client/index.ts';
import { Card, useSay } from '../parts/index.ts';
import { OfficeFields } from './OfficeFields.tsx';

/** What holds for all cabinets: where the office is and how it writes. */
export function SettingsPage() {
  const { cabinet, session, may } = useOffice();
  const queries = useQueryClient();
  const say = useSay();
  const [office, setOffice] = useState(session.office);
  const [saving, setSaving] = useState(false);
  const changed = JSON.stringify(office) !== JSON.stringify(session.office);
  const save = async (): Promise<void> => {
    setSaving(true);
    try {
      await send<Office>('PUT', `/api/cabinets/${cabinet.id}/office`, office);
      // Everything that is on the screen was written in the old way.
      await queries.invalidateQueries();
      say('Saved. It holds for everybody from now on.');
    } catch (error) {
      say((error as Error).message);
    } finally {
      setSaving(false);
    }
  };
  return (
    <div className="page-body settings">
      <div className="page-head">
        <h1>Settings</h1>
      </div>
      <Card title="Office">
        <div className="card-section">
          <p className="faded">
            {session.officeIsSet
              ? 'For all cabinets of this installation.'
              : 'Nobody has chosen these yet: the time zone is the server’s. They hold for all cabinets of this installation.'}
          </p>
          <div className="settings-fields">
            <OfficeFields office={office} disabled={!may('build')} onChange={setOffice} />
          </div>
          {!may('build') && <p className="faded">Who may build forms can change these.</p>}
        </div>
        {may('build') && (
          <div className="card-foot">
            <div className="end">
              <Button
                variant="contained"
                disabled={saving || (!changed && session.officeIsSet)}
                onClick={() => void save()}
              >
                Save
              </Button>
            </div>
          </div>
        )}
      </Card>
    </div>
  );
}
