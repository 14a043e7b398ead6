import { say } from '@fiche/core/languages';
import type { TableDefinition } from '@fiche/core/tables';
import { proposeShown, type Shown } from '@fiche/core/views';
import ChartIcon from '@mui/icons-material/BarChartOutlined';
import CalendarIcon from '@mui/icons-material/CalendarMonthOutlined';
import ListIcon from '@mui/icons-material/TableRowsOutlined';
import LanesIcon from '@mui/icons-material/ViewTimelineOutlined';
import ToggleButton from '@mui/material/ToggleButton';
import ToggleButtonGroup from '@mui/material/ToggleButtonGroup';
import { useOffice } from '../client/index.ts';
import listingCss from './listing.module.css';

const WAYS = [
  { as: 'list', label: say('List'), Icon: ListIcon },
  { as: 'chart', label: say('Chart'), Icon: ChartIcon },
  { as: 'calendar', label: say('Calendar'), Icon: CalendarIcon },
  { as: 'lanes', label: say('Lanes'), Icon: LanesIcon },
] as const;

interface ShownAsProps {
  readonly table: TableDefinition;
  /** How the records are shown now, and how the view is that is open. */
  readonly shown: Shown;
  readonly saved: Shown;
  onShow(shown: Shown): void;
}

/** How records are shown: as a list, a chart, a calendar or lanes; only what the fields of the table serve for. */
export function ShownAs({ table, shown, saved, onShow }: ShownAsProps) {
  const { tables } = useOffice();
  return (
    <ToggleButtonGroup
      exclusive
      size="small"
      value={shown.as}
      aria-label={say('Show as')}
      className={listingCss.shownAs}
    >
      {WAYS.map(({ as, label, Icon }) => {
        // What the view that is open says comes back as it was.
        const to = saved.as === as ? saved : proposeShown(as, table, tables);
        return (
          to && (
            <ToggleButton key={as} value={as} onClick={() => onShow(to)}>
              <Icon fontSize="small" aria-hidden /> {label}
            </ToggleButton>
          )
        );
      })}
    </ToggleButtonGroup>
  );
}
