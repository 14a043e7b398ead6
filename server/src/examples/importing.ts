import type { Example } from './example.ts';

const plan = {
  reading: { kind: 'csv' },
  into: { kind: 'table', table: 'quay_vessels' },
  columns: [
    { name: 'Name', at: 0, to: { kind: 'field', field: 'name' } },
    { name: 'Registration', at: 1, to: { kind: 'field', field: 'registration' } },
    { name: 'Length', at: 2, to: { kind: 'field', field: 'length' } },
  ],
};
const params = { import: '<import>' };

/** A file on its way in: sent, checked, corrected, written. */
export const IMPORT_EXAMPLES: readonly Example[] = [
  {
    route: 'POST /api/cabinets/{cabinet}/imports',
    query: { file: 'vessels.csv' },
    file: 'Name,Registration,Length\nWhimbrel,GS-0107,8.4\nSanderling,GS-0108,long\n',
    keeps: { '<import>': 'id' },
  },
  {
    route: 'POST /api/cabinets/{cabinet}/imports/links',
    body: { columns: [{ name: 'Harbour', cells: ['Gannet Quay', 'Tern Cove'] }] },
  },
  { route: 'POST /api/cabinets/{cabinet}/imports/{import}/check', params, body: { plan } },
  { route: 'GET /api/cabinets/{cabinet}/imports/{import}', params },
  { route: 'GET /api/cabinets/{cabinet}/imports/{import}/bad-rows', params },
  { route: 'GET /api/cabinets/{cabinet}/imports/{import}/bad-rows/export', params },
  {
    route: 'POST /api/cabinets/{cabinet}/imports/{import}/corrections',
    params,
    body: { rows: [{ number: 3, cells: ['Sanderling', 'GS-0108', '9.1'] }] },
  },
  { route: 'POST /api/cabinets/{cabinet}/imports/{import}/check', params, body: { plan } },
  { route: 'POST /api/cabinets/{cabinet}/imports/{import}/run', params, body: { rows: 'all' } },
  { route: 'GET /api/cabinets/{cabinet}/imports' },
];
