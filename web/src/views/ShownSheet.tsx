import { say } from '@fiche/core/languages';
import type { TableDefinition } from '@fiche/core/tables';
import type { Shown } from '@fiche/core/views';
import { PeriodSettingsForm } from '../calendar/index.ts';
import { ChartSettings } from '../charts/index.ts';
import { Sheet } from '../parts/index.ts';

interface ShownSheetProps {
  readonly table: TableDefinition;
  readonly shown: Shown;
  onChange(shown: Shown): void;
  onClose(): void;
}

/** How records are shown: what a chart shows, or by which dates a calendar and lanes do. */
export function ShownSheet({ table, shown, onChange, onClose }: ShownSheetProps) {
  if (shown.as === 'list') return null;
  if (shown.as === 'chart')
    return (
      <Sheet title={say('Chart')} onClose={onClose}>
        <ChartSettings table={table} chart={shown.chart} onChange={(chart) => onChange({ as: 'chart', chart })} />
      </Sheet>
    );
  return (
    <Sheet title={shown.as === 'lanes' ? say('Lanes') : say('Calendar')} onClose={onClose}>
      <PeriodSettingsForm table={table} shown={shown} onChange={onChange} />
    </Sheet>
  );
}
