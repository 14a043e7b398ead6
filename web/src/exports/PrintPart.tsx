import { say } from '@fiche/core/languages';
import { currentOffice } from '@fiche/core/office';
import { type Orientation, PAPERS, type Paper, paperOf } from '@fiche/core/print';
import type { TableDefinition } from '@fiche/core/tables';
import Button from '@mui/material/Button';
import { useState } from 'react';
import { SelectField, settingsCss, textCss } from '../parts/index.ts';
import { ExportProgress } from './ExportProgress.tsx';
import type { SelectedRecords } from './selectedRecords.ts';
import { useExport } from './useExport.ts';

const ORIENTATIONS: readonly { readonly value: Orientation; readonly label: string }[] = [
  { value: 'auto', label: say('automatic, by the number of columns') },
  { value: 'portrait', label: say('portrait') },
  { value: 'landscape', label: say('landscape') },
];
export const PAPER_OPTIONS = Object.entries(PAPERS).map(([value, { label }]) => ({ value, label }));
export const paperNamed = (name: string): Paper => (name === 'letter' ? 'letter' : 'a4');

interface PartProps {
  readonly table: TableDefinition;
  readonly records: SelectedRecords;
  readonly name: string;
}

/** The list on paper: its columns, groups and totals as a PDF. */
export function PrintPart({ table, records, name }: PartProps) {
  const [paper, setPaper] = useState<Paper>(paperOf(currentOffice().locale));
  const [orientation, setOrientation] = useState<Orientation>('auto');
  const work = useExport(table.id);
  return (
    <form
      className={settingsCss.form}
      aria-label={say('Print the list')}
      noValidate
      onSubmit={(event) => {
        event.preventDefault();
        void work.begin(
          { ...records, format: 'csv', links: 'titles', name, print: { kind: 'list', paper, orientation } },
          [],
        );
      }}
    >
      <p className={textCss.faded}>
        {say('The columns of the list, with its groups and totals. The names of the columns stand on every page.')}
      </p>
      <SelectField
        label={say('Paper')}
        value={paper}
        options={PAPER_OPTIONS}
        onChange={(to) => setPaper(paperNamed(to))}
      />
      <SelectField
        label={say('Orientation')}
        value={orientation}
        options={[...ORIENTATIONS]}
        onChange={(to) => setOrientation(ORIENTATIONS.find((one) => one.value === to)?.value ?? 'auto')}
      />
      <div className={settingsCss.acts}>
        <Button type="submit" variant="contained" disabled={work.now !== undefined && !work.over}>
          {say('Open as PDF')}
        </Button>
      </div>
      <ExportProgress work={work} pdf />
    </form>
  );
}
