import { EXPORT_FORMATS, type ExportFormat, type ExportSettings } from '@fiche/core/exports';
import { say } from '@fiche/core/languages';
import type { TableDefinition } from '@fiche/core/tables';
import Button from '@mui/material/Button';
import { useState } from 'react';
import { SelectField, settingsCss } from '../parts/index.ts';
import { DatesOfCalendar, useCalendarDates } from './DatesOfCalendar.tsx';
import { ExportProgress } from './ExportProgress.tsx';
import type { SelectedRecords } from './selectedRecords.ts';
import { useExport } from './useExport.ts';

interface PartProps {
  readonly table: TableDefinition;
  readonly records: SelectedRecords;
  /** What the file is called. */
  readonly name: string;
}

const LINKS: readonly { readonly value: ExportSettings['links']; readonly label: string }[] = [
  { value: 'titles', label: say('what the linked record is called') },
  { value: 'numbers', label: say('record numbers, to join tables by') },
];

/** Records as a file in an open format. */
export function FilePart({ table, records, name }: PartProps) {
  const [format, setFormat] = useState<ExportFormat>('csv');
  const [links, setLinks] = useState<ExportSettings['links']>('titles');
  const dates = useCalendarDates(table, records.listing);
  const work = useExport(table.id);
  const chosen = EXPORT_FORMATS.find((one) => one.name === format);
  const calendar = format === 'ics';
  return (
    <form
      className={settingsCss.form}
      aria-label={say('Export a file')}
      noValidate
      onSubmit={(event) => {
        event.preventDefault();
        void work.begin({ ...records, format, links, name, ...(calendar ? dates.chosen : {}) }, ['begins', 'ends']);
      }}
    >
      <SelectField
        label={say('Format')}
        value={format}
        options={EXPORT_FORMATS.map((one) => ({ value: one.name, label: say(one.label) }))}
        help={chosen && say(chosen.detail)}
        onChange={(to) => setFormat(EXPORT_FORMATS.find((one) => one.name === to)?.name ?? 'csv')}
      />
      {calendar ? (
        <DatesOfCalendar dates={dates} problems={work.problems} />
      ) : (
        <SelectField
          label={say('Links are written as')}
          value={links}
          options={[...LINKS]}
          onChange={(to) => setLinks(to === 'numbers' ? 'numbers' : 'titles')}
        />
      )}
      <div className={settingsCss.acts}>
        <Button
          type="submit"
          variant="contained"
          disabled={(work.now !== undefined && !work.over) || (calendar && dates.options.length === 0)}
        >
          {say('Export as {label}', { label: chosen?.label ?? say('CSV') })}
        </Button>
      </div>
      <ExportProgress work={work} />
    </form>
  );
}
