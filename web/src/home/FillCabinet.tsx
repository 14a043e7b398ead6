import { say } from '@fiche/core/languages';
import { formatCount } from '@fiche/core/office';
import { useState } from 'react';
import { sendFile, useOffice, useRefreshCabinet } from '../client/index.ts';
import { FileButton, useNotify } from '../parts/index.ts';

/** Fills an empty cabinet from another one’s file: its tables, forms and records. */
export function FillCabinet() {
  const { cabinet } = useOffice();
  const refresh = useRefreshCabinet();
  const notify = useNotify();
  const [share, setShare] = useState<number>();
  const fill = async (file: File): Promise<void> => {
    setShare(0);
    try {
      const filled = await sendFile<{ tables: number; forms: number; records: number; notes: string[] }>(
        `/api/cabinets/${cabinet.id}/cabinet-file?file=${encodeURIComponent(file.name)}`,
        file,
        setShare,
        new AbortController().signal,
      );
      await refresh();
      notify(
        [
          say('Imported: {tables} tables, {forms} forms and {records} records.', {
            tables: filled.tables,
            forms: filled.forms,
            records: formatCount(filled.records),
          }),
          ...filled.notes,
        ].join(' '),
      );
    } catch (error) {
      notify((error as Error).message);
    } finally {
      setShare(undefined);
    }
  };
  return (
    <FileButton
      label={share === undefined ? say('Import a cabinet file') : say('Importing…')}
      accept=".zip"
      disabled={share !== undefined}
      onChoose={(file) => void fill(file)}
    />
  );
}
