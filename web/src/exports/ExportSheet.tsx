import { say, sayCount } from '@fiche/core/languages';
import type { TableDefinition } from '@fiche/core/tables';
import Tab from '@mui/material/Tab';
import Tabs from '@mui/material/Tabs';
import { useState } from 'react';
import { Sheet } from '../parts/index.ts';
import { CalendarPart } from './CalendarPart.tsx';
import exportsCss from './exports.module.css';
import { FilePart } from './FilePart.tsx';
import { LabelsPart } from './LabelsPart.tsx';
import { PrintPart } from './PrintPart.tsx';
import type { SelectedRecords } from './selectedRecords.ts';

interface ExportSheetProps {
  readonly table: TableDefinition;
  readonly records: SelectedRecords;
  /** How many records are selected; undefined for all that the list finds. */
  readonly count?: number;
  /** What the list is called: its view, or its table. */
  readonly name: string;
  onClose(): void;
}

const PARTS = [
  { value: 'file', label: say('File') },
  { value: 'print', label: say('Print') },
  { value: 'labels', label: say('Labels') },
  { value: 'calendar', label: say('Calendar') },
] as const;
type Part = (typeof PARTS)[number]['value'];

/** The ways in which the records of a list leave the office: as a file, on paper, on labels, into a calendar. */
export function ExportSheet({ table, records, count, name, onClose }: ExportSheetProps) {
  const [part, setPart] = useState<Part>('file');
  const given = { table, records, name };
  const selected = count !== undefined;
  // A calendar is read again and again: it is of a list, neither of a few records nor of a moment.
  const parts = PARTS.filter((one) => one.value !== 'calendar' || (!selected && records.asOf === undefined));
  return (
    <div className={exportsCss.wide}>
      <Sheet
        title={
          selected
            ? say('Export {count}', {
                count: sayCount(count, '{count} record', '{count} records'),
              })
            : say('Export and print')
        }
        onClose={onClose}
      >
        <Tabs value={part} onChange={(_event, to: Part) => setPart(to)} aria-label={say('How the records leave')}>
          {parts.map((one) => (
            <Tab key={one.value} {...one} id={`export-${one.value}`} aria-controls="export-part" />
          ))}
        </Tabs>
        <div className={exportsCss.panel} role="tabpanel" id="export-part" aria-labelledby={`export-${part}`}>
          {part === 'file' && <FilePart {...given} />}
          {part === 'print' && <PrintPart {...given} />}
          {part === 'labels' && <LabelsPart {...given} />}
          {part === 'calendar' && <CalendarPart {...given} />}
        </div>
      </Sheet>
    </div>
  );
}
