import { all } from '@fiche/core/conditions';
import type { Example } from './example.ts';

const stay = {
  harbour: 1,
  pontoon: 1,
  berth: 1,
  registration: 'GS-0421',
  arrival: '2026-08-17T15:30',
  departure: '2026-08-19T10:00',
  persons: 3,
};
/** Stays whose departure is before today, the longest overdue first. */
const overdue = {
  columns: [{ path: 'number' }, { path: 'vessel' }, { path: 'berth.longest' }, { path: 'created_by' }],
  filter: all({
    kind: 'compare',
    left: { kind: 'column', path: 'departure' },
    operator: 'less',
    right: { kind: 'today', days: 0, of: 'dateTime' },
  }),
  sort: [{ path: 'departure', direction: 'up' }],
};
const PNG = Buffer.from(
  'iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNk+M9QDwADhgGAWjR9awAAAABJRU5ErkJggg==',
  'base64',
).toString('latin1');

const labels = {
  sheet: { paper: 'a4', columns: 3, rows: 8, width: 70, height: 37, gapX: 0, gapY: 0, top: 0.5, left: 0 },
  lines: [{ text: '{number}', bold: true }, { text: 'Berth {berth}' }],
};

const lanes = { as: 'lanes', lanes: { start: 'arrival', end: 'departure', lane: 'berth' } };

/** Records: added, asked for, changed, archived; what a form offers while it is filled; public pages. */
export const RECORD_EXAMPLES: readonly Example[] = [
  { route: 'POST /api/tables/{table}/fields', body: { field: { label: 'Papers', type: 'attachments' } } },
  { route: 'POST /api/tables/{table}/entries', body: { values: stay } },
  { route: 'POST /api/tables/{table}/choices', body: { field: 'berth', values: { harbour: 1 }, search: 'a' } },
  { route: 'POST /api/tables/{table}/lookups', body: { field: 'vessel', id: 1 } },
  { route: 'POST /api/tables/{table}/checks', body: { field: 'berth', values: { berth: 1 } } },
  { route: 'POST /api/tables/{table}/why', body: { field: 'berth', values: { harbour: 1 } } },
  {
    route: 'POST /api/tables/{table}/files',
    query: { field: 'papers', name: 'insurance.png' },
    file: PNG,
    keeps: { '<file>': 'token' },
  },
  {
    route: 'POST /api/tables/{table}/entries',
    body: { record: 1, version: 1, values: { papers: ['<file>'] } },
  },
  { route: 'GET /api/tables/{table}/files/{file}', params: { file: '<stored file>' } },
  { route: 'GET /api/tables/{table}/files/{file}/thumbnail', params: { file: '<stored file>' } },
  {
    route: 'GET /api/tables/{table}/records',
    query: { search: 'gs-0421', sort: 'arrival', direction: 'down', limit: 20 },
  },
  { route: 'GET /api/tables/{table}/records/{id}', query: { form: 'quay_check_in' } },
  { route: 'GET /api/tables/{table}/at/{position}' },
  { route: 'POST /api/tables/{table}/rows', body: { listing: overdue, search: 'gs-0421', limit: 20 } },
  {
    route: 'POST /api/tables/{table}/figures',
    body: { listing: { ...overdue, shown: { as: 'chart', chart: { kind: 'time', path: 'arrival', step: 'month' } } } },
  },
  {
    route: 'POST /api/tables/{table}/periods',
    body: { listing: { ...overdue, shown: lanes }, from: '2026-08-01', to: '2026-08-15' },
  },
  {
    route: 'POST /api/tables/{table}/free-lanes',
    body: {
      from: '2026-08-03',
      to: '2026-08-09',
      start: 'arrival',
      end: 'departure',
      lane: 'berth',
      where: {
        kind: 'group',
        match: 'all',
        of: [
          {
            kind: 'compare',
            left: { kind: 'column', path: 'longest' },
            operator: 'atLeast',
            right: { kind: 'constant', value: 12 },
          },
        ],
      },
    },
  },
  {
    route: 'POST /api/tables/{table}/views',
    body: { definition: { label: 'Overdue', ...overdue, shared: true } },
    keeps: { '<view>': 'id' },
  },
  { route: 'GET /api/tables/{table}/rows/export', query: { listing: JSON.stringify(overdue) } },
  {
    route: 'POST /api/tables/{table}/duplicates',
    params: { table: 'quay_vessels' },
    body: { by: [{ field: 'name', how: 'near' }] },
  },
  {
    route: 'POST /api/tables/{table}/compare',
    params: { table: 'quay_vessels' },
    body: { records: [1, 2] },
    keeps: { '<first version>': 'records.0.version', '<second version>': 'records.1.version' },
  },
  {
    route: 'POST /api/tables/{table}/merges',
    params: { table: 'quay_vessels' },
    body: {
      do: 'look',
      plan: {
        stays: 1,
        records: [
          { id: 1, version: '<first version>' },
          { id: 2, version: '<second version>' },
        ],
        valuesFrom: { length: 2 },
      },
    },
  },
  {
    route: 'POST /api/tables/{table}/exports',
    body: { listing: overdue, format: 'xlsx', name: 'Overdue stays' },
    keeps: { '<export>': 'id' },
  },
  { route: 'GET /api/tables/{table}/exports/{export}/file', params: { export: '<export>' } },
  { route: 'GET /api/tables/{table}/exports/{export}', params: { export: '<export>' } },
  { route: 'DELETE /api/tables/{table}/exports/{export}', params: { export: '<export>' } },
  { route: 'GET /api/tables/{table}/records/{id}/print', query: { form: 'quay_check_in', paper: 'a4' } },
  {
    route: 'POST /api/tables/{table}/label-layouts',
    body: { label: 'Berth cards', layout: labels },
    keeps: { '<labels>': 'id' },
  },
  {
    route: 'PUT /api/tables/{table}/label-layouts/{layout}',
    params: { layout: '<labels>' },
    body: { label: 'Berth cards with code', layout: { ...labels, qr: true }, revision: 1 },
  },
  { route: 'GET /api/tables/{table}/label-layouts' },
  { route: 'POST /api/tables/{table}/label-preview', body: { listing: overdue, layout: labels, start: 5 } },
  { route: 'DELETE /api/tables/{table}/label-layouts/{layout}', params: { layout: '<labels>' } },
  {
    route: 'POST /api/tables/{table}/calendars',
    body: { label: 'Overdue stays', listing: overdue, begins: 'arrival', ends: 'departure' },
    keeps: { '<calendar>': 'id', '<calendar address>': 'address' },
  },
  { route: 'GET /api/tables/{table}/calendars' },
  { route: 'GET /api/calendars/{token}', params: { token: '<calendar secret>' } },
  { route: 'DELETE /api/tables/{table}/calendars/{calendar}', params: { calendar: '<calendar>' } },
  { route: 'GET /api/tables/{table}/views' },
  {
    route: 'PUT /api/tables/{table}/views/{view}',
    params: { view: '<view>' },
    body: { definition: { label: 'Overdue stays', ...overdue, shared: true, opens: true }, revision: 1 },
  },
  { route: 'GET /api/tables/{table}/views/{view}/records', params: { view: '<view>' }, query: { limit: 20 } },
  { route: 'GET /api/tables/{table}/views/{view}/export', params: { view: '<view>' } },
  {
    route: 'POST /api/tables/{table}/views',
    body: {
      definition: {
        label: 'Arrivals a week',
        ...overdue,
        shown: { as: 'chart', chart: { kind: 'time', path: 'arrival', step: 'week' } },
        shared: true,
        home: true,
      },
    },
    keeps: { '<chart>': 'id' },
  },
  { route: 'GET /api/tables/{table}/views/{view}/figures', params: { view: '<chart>' } },
  {
    route: 'POST /api/tables/{table}/views',
    body: { definition: { label: 'Berths and stays', ...overdue, shown: lanes, shared: true } },
    keeps: { '<lanes>': 'id' },
  },
  {
    route: 'GET /api/tables/{table}/views/{view}/periods',
    params: { view: '<lanes>' },
    query: { from: '2026-08-01', to: '2026-08-15' },
  },
  { route: 'PUT /api/cabinets/{cabinet}/home', body: { views: [{ view: '<lanes>' }] } },
  { route: 'GET /api/cabinets/{cabinet}/home' },
  { route: 'GET /api/cabinets/{cabinet}/home/changes' },
  { route: 'PUT /api/forms/{form}/watch', params: { form: 'quay_arrival' }, body: {} },
  { route: 'DELETE /api/forms/{form}/watch', params: { form: 'quay_arrival' } },
  { route: 'PUT /api/tables/{table}/views/{view}/watch', params: { view: '<view>' }, body: {} },
  { route: 'DELETE /api/tables/{table}/views/{view}/watch', params: { view: '<view>' } },
  { route: 'DELETE /api/tables/{table}/views/{view}', params: { view: '<view>' } },
  {
    route: 'POST /api/tables/{table}/changes',
    body: {
      what: { kind: 'set', set: [{ field: 'persons', becomes: { kind: 'value', value: 4 } }] },
      records: { kind: 'some', ids: [1] },
    },
    keeps: { '<change>': 'id' },
  },
  { route: 'GET /api/tables/{table}/changes/{change}', params: { change: '<change>' } },
  { route: 'POST /api/tables/{table}/changes/{change}/run', params: { change: '<change>' }, body: { records: 'good' } },
  { route: 'POST /api/tables/{table}/changes/{change}/put-back', params: { change: '<change>' }, body: {} },
  { route: 'GET /api/tables/{table}/records/{id}/history', keeps: { '<save>': 'lines.0.transaction' } },
  {
    route: 'POST /api/cabinets/{cabinet}/saves/{transaction}/put-back',
    params: { transaction: '<save>' },
    body: { do: 'look' },
  },
  {
    route: 'POST /api/tables/{table}/saves/{transaction}/put-back',
    params: { transaction: '<save>' },
    body: { part: 'changed' },
  },
  { route: 'GET /api/tables/{table}/records/{id}/as-of', query: { at: 'now' } },
  { route: 'GET /api/tables/{table}/records/{id}/place' },
  { route: 'GET /api/tables/{table}/records/{id}/linking', params: { table: 'quay_berths' } },
  { route: 'GET /api/tables/{table}/records/{id}/everything' },
  { route: 'GET /api/tables/{table}/export', query: { search: 'gs-0421' } },
  { route: 'PUT /api/tables/{table}/records/{id}/watch', body: {} },
  { route: 'GET /api/account/watches' },
  { route: 'GET /api/account/notices' },
  { route: 'POST /api/account/notices/seen', body: { notices: 'all' } },
  { route: 'DELETE /api/tables/{table}/records/{id}/watch' },
  { route: 'GET /api/forms/{form}' },
  { route: 'GET /api/forms/{form}/records', query: { limit: 50 } },
  { route: 'POST /api/forms/{form}/choices', body: { field: 'pontoon', values: { harbour: 1 } } },
  { route: 'POST /api/forms/{form}/lookups', body: { field: 'registration', key: 'GS-0421' } },
  { route: 'POST /api/forms/{form}/checks', body: { field: 'pontoon', values: { harbour: 1, pontoon: 1 } } },
  { route: 'POST /api/forms/{form}/why', body: { field: 'pontoon', values: { harbour: 1 } } },
  { route: 'POST /api/forms/{form}/entries', body: { values: { ...stay, berth: 2 } } },
  { route: 'POST /api/tables/{table}/records/{id}/archive', params: { id: 2 }, body: { version: 1 } },
  { route: 'POST /api/tables/{table}/records/{id}/restore', params: { id: 2 }, body: { version: 2 } },
  { route: 'POST /api/tables/{table}/records/{id}/archive', params: { id: 2 }, body: { version: 3 } },
  {
    route: 'DELETE /api/tables/{table}/records/{id}',
    params: { id: 2 },
    body: { version: 4, reason: 'The owner asked for it.' },
  },
  { route: 'GET /api/public/{slug}', by: 'nobody' },
  { route: 'POST /api/public/{slug}/choices', by: 'nobody', body: { field: 'pontoon', values: { harbour: 1 } } },
  { route: 'POST /api/public/{slug}/lookups', by: 'nobody', body: { field: 'registration', key: 'GS-0421' } },
  {
    route: 'POST /api/public/{slug}/checks',
    by: 'nobody',
    body: { field: 'pontoon', values: { harbour: 1, pontoon: 1 } },
  },
  { route: 'POST /api/public/{slug}/entries', by: 'nobody', body: { values: { ...stay, pontoon: 2, berth: 3 } } },
  { route: 'GET /api/forms/{form}/answers', params: { form: 'quay_arrival' }, query: { limit: 50 } },
  { route: 'GET /api/forms/{form}/answers.csv', params: { form: 'quay_arrival' } },
  { route: 'GET /api/forms/{form}/held', params: { form: 'quay_arrival' }, keeps: { '<held answer>': 'answers.0.id' } },
  {
    route: 'POST /api/forms/{form}/held/{id}',
    params: { form: 'quay_arrival', id: '<held answer>' },
    body: { decision: 'release', reason: 'A real arrival.' },
  },
];
