import type { PeriodSettings } from '@fiche/core/calendar';
import { findField, type TableDefinition, typeOf } from '@fiche/core/tables';
import { useOffice } from '../client/index.ts';
import type { PeriodForm } from './usePeriodForm.ts';
import type { PeriodsFilter } from './usePeriods.ts';

/**
 * What may be done with the periods of a table: nothing with those of the past, or of archived records. They are moved where the
 * role may change records, and where the form that checks a move has their dates and lets them be written.
 */
export function usePeriodRights(
  { prepared }: PeriodForm,
  table: TableDefinition,
  settings: PeriodSettings,
  filter: PeriodsFilter,
) {
  const { may } = useOffice();
  const start = findField(table, settings.start);
  const now = filter.asOf === undefined && filter.archived !== 'yes';
  const dates = [settings.start, ...(settings.end === null ? [] : [settings.end])];
  const written = dates.every((id) => {
    const field = prepared.fields.get(id);
    return field?.placed === true && !field.readOnly;
  });
  return {
    now,
    /** Periods are of whole days: their fields hold no time of day. */
    holdsDays: start !== undefined && typeOf(start).family === 'date',
    mayMove: now && may('change', table.id) && written,
    mayAdd: now && may('add', table.id) && written,
  };
}
