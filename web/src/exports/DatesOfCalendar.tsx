import { say } from '@fiche/core/languages';
import { type TableDefinition, typeOf } from '@fiche/core/tables';
import { columnsFor, type Listing } from '@fiche/core/views';
import { useState } from 'react';
import { type PlacedProblems, useOffice } from '../client/index.ts';
import { SelectField, type SelectOption, textCss } from '../parts/index.ts';

/** The dates that a list can be a calendar by, and those that are chosen: the first of its columns, until somebody says otherwise. */
export function useCalendarDates(table: TableDefinition, listing: Listing) {
  const { tables } = useOffice();
  const shown = new Set(listing.columns.map((one) => one.path));
  const known = columnsFor(tables, table).flatMap(({ path, label, field }) => {
    const family = field && typeOf(field).family;
    return family === 'date' || family === 'dateTime' ? [{ value: path, label }] : [];
  });
  const options: SelectOption[] = [
    ...known.filter((one) => shown.has(one.value)),
    ...known.filter((one) => !shown.has(one.value)),
  ];
  const [begins, setBegins] = useState<string>();
  const [ends, setEnds] = useState('');
  const first = begins ?? options[0]?.value;
  return {
    options,
    begins: first,
    ends,
    setBegins,
    setEnds,
    chosen: { ...(first === undefined ? {} : { begins: first }), ...(ends === '' ? {} : { ends }) },
  };
}

interface DatesProps {
  readonly dates: ReturnType<typeof useCalendarDates>;
  readonly problems: PlacedProblems | undefined;
}

/** Which date of a record is its event in a calendar. */
export function DatesOfCalendar({ dates, problems }: DatesProps) {
  if (dates.options.length === 0)
    return (
      <p className={textCss.notice}>
        {say('This table has no field with a date, so there is nothing for a calendar.')}
      </p>
    );
  return (
    <>
      <SelectField
        label={say('An event begins on')}
        value={dates.begins ?? ''}
        options={dates.options}
        problem={problems?.at.begins}
        help={say('Records without this date are left out.')}
        onChange={dates.setBegins}
      />
      <SelectField
        label={say('and ends on')}
        value={dates.ends}
        options={[{ value: '', label: say('the same') }, ...dates.options.filter((one) => one.value !== dates.begins)]}
        problem={problems?.at.ends}
        onChange={dates.setEnds}
      />
    </>
  );
}
