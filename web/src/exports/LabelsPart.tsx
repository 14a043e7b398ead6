import type { LabelLayoutView, LabelPreview } from '@fiche/core/api';
import { type LabelLayout, labelsOnSheet, proposeLayout } from '@fiche/core/labels';
import { say, sayCount } from '@fiche/core/languages';
import { currentOffice } from '@fiche/core/office';
import { paperOf } from '@fiche/core/print';
import type { TableDefinition } from '@fiche/core/tables';
import Alert from '@mui/material/Alert';
import Button from '@mui/material/Button';
import TextField from '@mui/material/TextField';
import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { useDeferredValue, useState } from 'react';
import { placedProblems, send } from '../client/index.ts';
import { CheckField, settingsCss, textCss } from '../parts/index.ts';
import { ExportProgress } from './ExportProgress.tsx';
import exportsCss from './exports.module.css';
import { LabelLines } from './LabelLines.tsx';
import { LabelSheetPicture } from './LabelSheetPicture.tsx';
import { SavedLayouts } from './SavedLayouts.tsx';
import { SheetMeasures } from './SheetMeasures.tsx';
import type { SelectedRecords } from './selectedRecords.ts';
import { useExport } from './useExport.ts';

interface PartProps {
  readonly table: TableDefinition;
  readonly records: SelectedRecords;
  readonly name: string;
}

/** Labels of the records: what stands on each, on which sheets, from which label on; with a picture of the first sheet. */
export function LabelsPart({ table, records, name }: PartProps) {
  const [layout, setLayout] = useState<LabelLayout>(() => proposeLayout(table, paperOf(currentOffice().locale)));
  const [kept, setKept] = useState<LabelLayoutView>();
  const [start, setStart] = useState(1);
  const work = useExport(table.id);
  const most = labelsOnSheet(layout.sheet);
  const begins = Math.min(start, most);
  const preview = usePreview(table, records, layout, begins);
  const problems = preview.error ? placedProblems(preview.error, placesOf(layout)) : undefined;
  const { labels, total = 0, sheets = 0, misfits = 0 } = preview.data ?? {};
  return (
    <form
      className={settingsCss.form}
      aria-label={say('Labels')}
      noValidate
      onSubmit={(event) => {
        event.preventDefault();
        const print = { kind: 'labels' as const, layout, start: begins };
        void work.begin({ ...records, format: 'csv', links: 'titles', name, print }, []);
      }}
    >
      <SavedLayouts
        table={table}
        layout={layout}
        kept={kept}
        onOpen={(one) => {
          setKept(one);
          if (one) setLayout(one.layout);
        }}
      />
      <SheetMeasures
        sheet={layout.sheet}
        problems={problems?.at}
        onChange={(sheet) => setLayout({ ...layout, sheet })}
      />
      <LabelLines
        table={table}
        lines={layout.lines}
        problems={problems?.at}
        onChange={(lines) => setLayout({ ...layout, lines: [...lines] })}
      />
      <CheckField
        label={say('With a code that opens the record')}
        checked={layout.qr}
        onChange={(qr) => setLayout({ ...layout, qr })}
      />
      <TextField
        className={exportsCss.measure}
        type="number"
        label={say('Begin at label')}
        value={begins}
        helperText={say('Of {most} on a sheet, where some are used already. Or press it in the picture.', { most })}
        slotProps={{ htmlInput: { min: 1, max: most } }}
        onChange={(event) => setStart(Math.max(1, Math.min(most, Number(event.target.value) || 1)))}
      />
      {problems?.trouble && <Alert severity="error">{problems.trouble}</Alert>}
      <LabelSheetPicture layout={layout} labels={labels ?? []} start={begins} onStart={setStart} />
      {preview.data && (
        <p className={misfits > 0 ? textCss.notice : textCss.faded} role="status">
          {total === 0
            ? say('The list finds no records, so there is nothing to print.')
            : say('{total} on {sheets}.', {
                total: sayCount(total, '{count} label', '{count} labels'),
                sheets: sayCount(sheets, '{count} sheet', '{count} sheets'),
              })}
          {misfits > 0 &&
            ` ${say('Something does not fit on {misfits} of this sheet, marked in the picture: write less on it, or use larger labels.', { misfits: sayCount(misfits, '{count} label', '{count} labels') })}`}
        </p>
      )}
      <div className={settingsCss.acts}>
        <Button
          type="submit"
          variant="contained"
          disabled={total === 0 || preview.isError || (work.now !== undefined && !work.over)}
        >
          {say('Open {total} as PDF', {
            total: sayCount(total, '{count} label', '{count} labels'),
          })}
        </Button>
      </div>
      <ExportProgress work={work} pdf />
    </form>
  );
}

const placesOf = ({ lines }: LabelLayout): string[] => [
  ...['columns', 'rows', 'width', 'height', 'gapX', 'gapY', 'top', 'left'].map((one) => `layout.sheet.${one}`),
  ...lines.map((_line, at) => `layout.lines.${at}`),
];

/** The first sheet as the server would print it; the last one while another is asked for. */
function usePreview(table: TableDefinition, records: SelectedRecords, layout: LabelLayout, start: number) {
  const asked = useDeferredValue(JSON.stringify({ ...records, layout, start }));
  return useQuery({
    queryKey: ['label-preview', table.id, asked],
    queryFn: ({ signal }) =>
      send<LabelPreview>('POST', `/api/tables/${table.id}/label-preview`, JSON.parse(asked), {}, signal),
    placeholderData: keepPreviousData,
    retry: false,
  });
}
