import {
  type CalendarSpan,
  isPeriodEnd,
  type LaneSettings,
  type LaneSpan,
  type PeriodSettings,
} from '@fiche/core/calendar';
import { linksOne } from '@fiche/core/fields';
import { say } from '@fiche/core/languages';
import { findField, linkedTable, type TableDefinition } from '@fiche/core/tables';
import { columnAt, columnsFor, type Shown } from '@fiche/core/views';
import { useId } from 'react';
import { useOffice } from '../client/index.ts';
import { PickField, SelectField, settingsCss, textCss } from '../parts/index.ts';
import { ConditionSentences, narrowingSides } from '../sentences/index.ts';
import { CALENDAR_SPAN_LABELS, LANE_SPAN_LABELS } from './spanLabels.ts';

type InTime = Extract<Shown, { as: 'calendar' | 'lanes' }>;

interface PeriodSettingsFormProps {
  readonly table: TableDefinition;
  readonly shown: InTime;
  onChange(shown: InTime): void;
}

/** By which dates a calendar or lanes show records, what is written on them, and which lanes there are. What stands beside it follows at once. */
export function PeriodSettingsForm({ table, shown, onChange }: PeriodSettingsFormProps) {
  const { tables, cabinet } = useOffice();
  const id = useId();
  const settings: PeriodSettings = shown.as === 'lanes' ? shown.lanes : shown.calendar;
  const set = (change: Partial<PeriodSettings>): void =>
    onChange(
      shown.as === 'lanes'
        ? { as: 'lanes', lanes: { ...shown.lanes, ...change } as LaneSettings }
        : { as: 'calendar', calendar: { ...shown.calendar, ...change } },
    );
  const dates = table.fields.filter(isPeriodEnd).map((field) => ({ value: field.id, label: field.label }));
  const labels = columnsFor(tables, table).map(({ path, label }) => ({ value: path, label }));
  const forms = cabinet.forms.filter((form) => form.table === table.id && form.liveVersion !== null && !form.archived);
  return (
    <div className={settingsCss.form}>
      {shown.as === 'lanes' && (
        <SelectField
          label={say('One lane for each')}
          value={shown.lanes.lane}
          options={table.fields
            .filter((field) => linksOne(field))
            .map((field) => ({ value: field.id, label: field.label }))}
          // What stands beside the lanes and chooses them is of another table then.
          onChange={(lane) =>
            onChange({
              as: 'lanes',
              lanes: {
                ...shown.lanes,
                lane: lane as LaneSettings['lane'],
                facts: [],
                where: { kind: 'group', match: 'all', of: [] },
              },
            })
          }
        />
      )}
      <SelectField
        label={say('Begins')}
        value={settings.start}
        options={dates}
        onChange={(start) => set({ start: start as PeriodSettings['start'] })}
      />
      <SelectField
        label={say('Ends')}
        value={settings.end ?? ''}
        options={[{ value: '', label: say('It has no end') }, ...dates.filter(({ value }) => value !== settings.start)]}
        onChange={(end) => set({ end: end === '' ? null : (end as PeriodSettings['end']) })}
      />
      <PickField
        id={`${id}label`}
        label={say('Written on it')}
        options={[{ value: '', label: say('What the record is called') }, ...labels]}
        value={settings.label ?? ''}
        onPick={(path) => set({ label: path === '' ? null : path })}
      />
      <SelectField
        label={say('Records open in')}
        value={settings.form ?? ''}
        help={say('New ones are entered there, and moves are checked by its rules.')}
        options={[
          { value: '', label: say('the card of {label}', { label: table.label }) },
          ...forms.map((form) => ({ value: form.id, label: say('the form {label}', { label: form.label }) })),
        ]}
        onChange={(form) => set({ form: form === '' ? null : form })}
      />
      <SpanField shown={shown} onChange={onChange} />
      {shown.as === 'lanes' && (
        <LanesPart table={table} lanes={shown.lanes} onChange={(lanes) => onChange({ as: 'lanes', lanes })} />
      )}
    </div>
  );
}

/** How much of time is shown at first. */
function SpanField({ shown, onChange }: Pick<PeriodSettingsFormProps, 'shown' | 'onChange'>) {
  const label = say('Shown at first');
  const optionsOf = (labels: Readonly<Record<string, string>>) =>
    Object.entries(labels).map(([value, words]) => ({ value, label: words }));
  if (shown.as === 'lanes') {
    const { lanes } = shown;
    const change = (span: string): void => onChange({ as: 'lanes', lanes: { ...lanes, span: span as LaneSpan } });
    return <SelectField label={label} value={lanes.span} options={optionsOf(LANE_SPAN_LABELS)} onChange={change} />;
  }
  const { calendar } = shown;
  const change = (span: string): void =>
    onChange({ as: 'calendar', calendar: { ...calendar, span: span as CalendarSpan } });
  return (
    <SelectField label={label} value={calendar.span} options={optionsOf(CALENDAR_SPAN_LABELS)} onChange={change} />
  );
}

/** What the fields beside the name of a lane are called, in their order. */
const besideLabel = (at: number): string =>
  say('{at} field beside the name', { at: [say('First'), say('Second'), say('Third')][at] ?? '' });

/** Which of the linked records have a lane, and what stands beside their names. */
function LanesPart({
  table,
  lanes,
  onChange,
}: {
  readonly table: TableDefinition;
  readonly lanes: LaneSettings;
  onChange(lanes: LaneSettings): void;
}) {
  const { tables } = useOffice();
  const id = useId();
  const target = tables.get(linkedTable(findField(table, lanes.lane)) ?? '');
  if (!target) return null;
  const options = columnsFor(tables, target)
    .filter(({ path }) => !path.includes(':') && !lanes.facts.includes(path))
    .map(({ path, label }) => ({ value: path, label }));
  return (
    <>
      {lanes.facts.map((path, at) => (
        <PickField
          key={path}
          id={`${id}${path}`}
          label={besideLabel(at)}
          options={[
            { value: '', label: say('Nothing') },
            { value: path, label: columnAt(tables, target.id, path)?.label ?? path },
            ...options,
          ]}
          value={path}
          onPick={(to) =>
            onChange({ ...lanes, facts: lanes.facts.flatMap((one, n) => (n !== at ? [one] : to === '' ? [] : [to])) })
          }
        />
      ))}
      {lanes.facts.length < 3 && (
        <PickField
          key={lanes.facts.length}
          id={`${id}add`}
          label={besideLabel(lanes.facts.length)}
          options={options}
          value=""
          onPick={(path) => path !== '' && onChange({ ...lanes, facts: [...lanes.facts, path] })}
        />
      )}
      <div>
        <p className={textCss.faded}>{say('Which {label} have a lane', { label: target.label })}</p>
        <ConditionSentences
          sides={narrowingSides(tables, target.id, [])}
          where={lanes.where}
          lead={[`${say('Lanes for {label} whose', { label: target.label })} `]}
          none={[say('Lanes for all {label}.', { label: target.label })]}
          addLabel={say('+ Condition')}
          onChange={(where) => onChange({ ...lanes, where })}
        />
      </div>
    </>
  );
}
