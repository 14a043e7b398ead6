import type { Period, PeriodSettings } from '@fiche/core/calendar';
import type { Unsaved } from '@fiche/core/entry';
import type { Value } from '@fiche/core/fields';
import { say } from '@fiche/core/languages';
import type { FieldId, TableDefinition } from '@fiche/core/tables';
import { useNavigate } from 'react-router-dom';
import { timeText } from './periodText.ts';
import type { Lane } from './useLanes.ts';
import { useMoves } from './useMoves.ts';
import type { PeriodForm } from './usePeriodForm.ts';

type To = Pick<Period, 'start' | 'end' | 'lane'>;

/** Moves of periods as changes of the fields of their records, and new records for a time and a lane. */
export function usePeriodMoves(
  table: TableDefinition,
  settings: PeriodSettings,
  { base, path }: PeriodForm,
  lanes: readonly Lane[] = [],
) {
  const navigate = useNavigate();
  const moves = useMoves(table, base);
  const laneOf = (id: number | null): Lane | undefined => lanes.find((one) => one.id === id);

  /** The fields that differ between two places of a period, with what they are at the second. */
  const valuesOf = (from: To, to: To): Record<string, Value> => ({
    ...(from.start === to.start ? {} : { [settings.start]: to.start }),
    ...(settings.end === null || from.end === to.end ? {} : { [settings.end]: to.end }),
    ...(settings.lane === undefined || from.lane === to.lane ? {} : laneValues(to.lane)),
  });
  const laneValues = (id: number | null): Record<string, Value> => ({
    ...Object.fromEntries((laneOf(id)?.follow ?? []).map(({ field, value }) => [field, value])),
    ...(settings.lane === undefined ? {} : { [settings.lane]: id }),
  });
  const ends = settings.end !== null;
  return {
    ...moves,
    move(period: Period, to: To): void {
      const lane = to.lane === period.lane ? '' : `${laneOf(to.lane)?.title ?? say('no lane')}, `;
      moves.save({
        period,
        to,
        values: valuesOf(period, to),
        before: valuesOf(to, period),
        words: say('{title} is moved: {lane}{to}.', { title: period.title, lane, to: timeText(to, ends) }),
      });
    },
    /** Opens a new card with a time and, where it is of a lane, its record and what that decides. */
    add({ start, end, lane }: To): void {
      const of = laneOf(lane);
      const known = (field: string, value: Value, title: string | null) =>
        value === null
          ? []
          : [{ field: field as FieldId, value, ...(title === null ? {} : { linked: { title, facts: {} } }) }];
      const copy: Unsaved = {
        record: null,
        fields: [
          ...(of?.follow ?? []).flatMap((one) => known(one.field, one.value, one.title)),
          ...(settings.lane !== undefined && of ? known(settings.lane, of.id, of.title) : []),
          ...known(settings.start, start, null),
          ...(settings.end === null ? [] : known(settings.end, end, null)),
        ],
        lines: {},
      };
      navigate(`${path}/new`, { state: { copy } });
    },
  };
}
