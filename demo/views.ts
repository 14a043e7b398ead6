import { calendarSettingsSchema, laneSettingsSchema } from '@fiche/core/calendar';
import { all, type Comparison, is, type Operator } from '@fiche/core/conditions';
import { COMMON_SHEETS, labelLayoutSchema } from '@fiche/core/labels';
import { listingProblems, type ViewDefinition, viewDefinitionSchema } from '@fiche/core/views';
import type { Transaction } from '@fiche/server/database/index';
import { loadDefinitions } from '@fiche/server/definitions/index';
import { addLayout } from '@fiche/server/print/index';
import { addView } from '@fiche/server/views/index';

const column = (path: string) => ({ kind: 'column' as const, path });
const constant = (value: string | boolean | number) => ({ kind: 'constant' as const, value });
/** Compares a moment with the beginning of a day, so many days from today. */
const day = (path: string, operator: Extract<Operator, 'less' | 'atLeast'>, days: number): Comparison => ({
  kind: 'compare',
  left: column(path),
  operator,
  right: { kind: 'today', days, of: 'dateTime' },
});
const columns = (...paths: string[]) => paths.map((path) => ({ path }));
const up = (path: string) => ({ path, direction: 'up' as const });

const view = (table: string, definition: Partial<ViewDefinition>) => ({
  table,
  definition: viewDefinitionSchema.parse({ shared: true, ...definition }),
});

/** The shared views of the sample. */
const VIEWS = [
  view('gannet_stays', {
    label: 'In harbour now',
    columns: columns('number', 'harbour', 'berth', 'vessel', 'vessel.length', 'owners_phone', 'arrival', 'departure'),
    filter: all(day('arrival', 'less', 1), day('departure', 'atLeast', 0)),
    sort: [up('harbour'), up('berth')],
  }),
  view('gannet_stays', {
    label: 'Arrivals this week',
    columns: columns('arrival', 'number', 'harbour', 'berth', 'vessel', 'vessel.length', 'owners_phone'),
    filter: all(day('arrival', 'atLeast', 0), day('arrival', 'less', 7)),
    sort: [up('arrival')],
  }),
  view('gannet_stays', {
    label: 'Leaving within a week',
    columns: [
      ...columns('departure', 'number', 'harbour', 'berth', 'vessel', 'waived'),
      { path: 'dues', summary: 'sum' },
      {
        path: '=1',
        calculation: { label: 'Nights', source: 'days(arrival, departure)', as: 'decimal' as const, places: 0 },
      },
    ],
    filter: all(day('departure', 'atLeast', 0), day('departure', 'less', 7)),
    sort: [up('departure')],
  }),
  view('gannet_stays', {
    label: 'Arrivals a week',
    columns: columns('number', 'harbour', 'berth', 'vessel', 'arrival', 'departure'),
    shown: {
      as: 'chart',
      chart: { kind: 'time', path: 'arrival', step: 'week', measure: { of: 'count' }, stacked: null },
    },
    home: true,
  }),
  view('gannet_stays', {
    label: 'Occupied berths by harbour',
    columns: columns('number', 'harbour', 'berth', 'vessel', 'arrival', 'departure'),
    filter: all(day('arrival', 'less', 1), day('departure', 'atLeast', 0)),
    shown: {
      as: 'chart',
      chart: { kind: 'categories', path: 'harbour', order: 'name', measure: { of: 'count' }, stacked: null },
    },
    home: true,
  }),
  view('gannet_stays', {
    label: 'Arrivals by day',
    columns: columns('number', 'harbour', 'berth', 'vessel', 'arrival', 'departure'),
    shown: {
      as: 'calendar',
      calendar: calendarSettingsSchema.parse({ start: 'arrival', label: 'vessel', form: 'gannet_check_in' }),
    },
  }),
  view('gannet_stays', {
    label: 'Berths and stays',
    columns: columns('number', 'harbour', 'berth', 'vessel', 'arrival', 'departure'),
    shown: {
      as: 'lanes',
      lanes: laneSettingsSchema.parse({
        start: 'arrival',
        end: 'departure',
        label: 'vessel',
        lane: 'berth',
        facts: ['pontoon.harbour', 'longest_vessel'],
        form: 'gannet_check_in',
      }),
    },
  }),
  view('gannet_stays', {
    label: 'Waived dues',
    columns: columns(
      'number',
      'harbour',
      'vessel',
      'arrival',
      'departure',
      'dues',
      'reason',
      'changed_by',
      'changed_at',
    ),
    filter: all(is(column('waived'), constant(true))),
    sort: [{ path: 'changed_at', direction: 'down' }],
  }),
  view('gannet_berths', {
    label: 'Berths by length',
    columns: columns('number', 'pontoon.harbour', 'pontoon', 'longest_vessel', 'deepest_draught', 'pontoon.power'),
    filter: all(is(column('in_use'), constant(true))),
    sort: [{ path: 'longest_vessel', direction: 'down' }, up('pontoon.harbour'), up('number')],
  }),
  view('gannet_berths', {
    label: 'Berths of one harbour',
    columns: columns('number', 'pontoon', 'longest_vessel', 'deepest_draught', 'in_use', 'gannet_stays:berth'),
    filter: all(is(column('pontoon.harbour'), { kind: 'asked' })),
    sort: [up('pontoon'), up('number')],
  }),
  view('gannet_fault_reports', {
    label: 'Open faults',
    columns: columns('number', 'harbour', 'pontoon', 'system', 'part', 'defect', 'assigned_to', 'created_at'),
    filter: all({ kind: 'compare', left: column('mended_on'), operator: 'isBlank' }),
    home: true,
  }),
  view('gannet_fault_reports', {
    label: 'Faults by system',
    columns: columns('number', 'harbour', 'pontoon', 'system', 'part', 'defect', 'mended_on'),
    shown: {
      as: 'chart',
      chart: { kind: 'categories', path: 'system', order: 'size', measure: { of: 'count' }, stacked: null },
    },
    home: true,
  }),
  view('gannet_owners', {
    label: 'Lead owners',
    columns: columns('name', 'kind', 'e_mail', 'phone', 'address'),
    filter: all(is(column('lead'), constant(true))),
    sort: [up('name')],
  }),
];

/** What stands on the labels of the sample: the addresses to which the office writes. */
const LABELS = {
  table: 'gannet_owners',
  label: 'Addresses',
  layout: labelLayoutSchema.parse({
    sheet: COMMON_SHEETS[1],
    lines: [{ text: '{name}', bold: true }, { text: '{address}' }],
  }),
};

/** Adds the labels of the sample. As the owner, in a transaction that has an actor. */
export const addSampleLabels = (owner: Transaction): Promise<unknown> => addLayout(owner, LABELS.table, LABELS);

/** Adds the shared views; gives their numbers by label. As the owner, in a transaction that has an actor. */
export async function addSampleViews(owner: Transaction): Promise<ReadonlyMap<string, number>> {
  const { tables } = await loadDefinitions(owner);
  const numbers = new Map<string, number>();
  for (const { table: id, definition } of VIEWS) {
    const table = tables.get(id);
    const problems = table ? listingProblems(definition, table, tables) : [];
    if (!table || problems.length > 0) throw new Error(`${definition.label}: ${problems[0]?.message ?? id}`);
    numbers.set(definition.label, Number(await addView(owner, id, 'harbourmaster', definition)));
  }
  return numbers;
}
