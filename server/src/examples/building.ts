import { all, is } from '@fiche/core/conditions';
import type { Example } from './example.ts';

const column = (path: string) => ({ kind: 'column' as const, path });
const form = (path: string) => ({ kind: 'form' as const, path });

const field = (label: string, type: string, settings: object = {}) => ({ field: { label, type, settings } });
const notLater = {
  kind: 'compare',
  left: form('departure'),
  operator: 'more',
  right: form('arrival'),
};
const rule = {
  id: 'after',
  kind: 'stop',
  when: null,
  must: notLater,
  at: 'departure',
  message: 'Departure must be after arrival.',
  examples: [],
};
/** A stay of many people is noted at its berth. */
const ripple = {
  id: 'long_stays',
  label: 'Full boats at their berth',
  on: ['added', 'changed'],
  when: {
    kind: 'group',
    match: 'all',
    of: [{ kind: 'compare', left: form('persons'), operator: 'atLeast', right: { kind: 'constant', value: 20 } }],
  },
  effects: [{ does: 'change', link: 'berth', values: [{ to: 'secret', from: { kind: 'summary' } }] }],
};
const noOverlap = {
  kind: 'noOverlap',
  id: 'one_vessel_a_berth',
  message: 'This berth is taken then.',
  same: ['berth'],
  from: 'arrival',
  to: 'departure',
};
const quickStay = {
  label: 'Quick stay',
  table: 'quay_stays',
  may: { add: true, change: true, archive: false },
  sections: [
    {
      id: 'main',
      label: '',
      items: [
        { field: 'harbour' },
        {
          field: 'pontoon',
          narrowing: { where: all(is(column('harbour'), form('harbour'))), sort: null, show: [], only: false },
        },
        { field: 'papers' },
      ],
    },
  ],
};
const photo = {
  label: 'Photo of a fault',
  table: 'quay_inspections',
  may: { add: true, change: false, archive: false },
  sections: [{ id: 'main', label: '', items: [{ field: 'photo' }] }],
  page: { slug: 'photo', intro: 'Show us what is broken.' },
};
const photoForm = { form: 'quay_photo_of_a_fault' };
const quick = { form: 'quay_quick_stay' };
const invited = { form: 'quay_invited_stay' };
/** A form whose public page opens by personal links, each for a harbour. */
const invitedStay = {
  label: 'Invited stay',
  table: 'quay_stays',
  may: { add: true, change: false, archive: false },
  sections: [{ id: 'stay', label: 'Stay', items: [{ field: 'harbour' }, { field: 'note' }] }],
  page: { slug: 'invited', disclosed: ['harbour offers name'], who: { kind: 'link', fills: 'harbour' } },
};
const inspections = { table: 'quay_inspections' };

/** Cabinets, tables, fields, option lists, rules and forms. */
export const BUILDING_EXAMPLES: readonly Example[] = [
  { route: 'POST /api/cabinets', body: { label: 'Tern Roads' } },
  { route: 'GET /api/cabinets/{cabinet}' },
  { route: 'PATCH /api/cabinets/{cabinet}', body: { description: 'Visitors of the harbours in the sound.' } },
  {
    route: 'PUT /api/cabinets/{cabinet}/office',
    body: { timeZone: 'Europe/London', locale: 'en-GB', currency: 'EUR' },
  },
  { route: 'GET /api/cabinets/{cabinet}/overview' },
  { route: 'GET /api/cabinets/{cabinet}/as-of', query: { at: 'now' } },
  { route: 'GET /api/cabinets/{cabinet}/find', query: { words: 'kittiwake' } },
  { route: 'GET /api/cabinets/{cabinet}/uses', query: { table: 'quay_stays', field: 'departure' } },
  {
    route: 'POST /api/cabinets/{cabinet}/tables',
    body: { label: 'Inspections', description: 'Rounds of the pontoons.' },
  },
  { route: 'POST /api/tables/{table}/fields', params: inspections, body: field('System', 'text') },
  { route: 'POST /api/tables/{table}/fields', params: inspections, body: field('Part', 'text') },
  { route: 'POST /api/tables/{table}/fields', params: inspections, body: field('Pages', 'text') },
  { route: 'POST /api/cabinets/{cabinet}/lists', body: { label: 'Faults', levels: ['System', 'Part'] } },
  {
    route: 'POST /api/tables/{table}/combinations',
    params: { table: 'quay_faults' },
    body: {
      add: [
        ['Shore power', 'Socket'],
        ['Shore power', 'Meter'],
      ],
    },
  },
  {
    route: 'POST /api/tables/{table}/entries',
    params: inspections,
    body: { values: { system: 'Shore power', part: 'Meter', pages: '2' } },
  },
  { route: 'GET /api/tables/{table}/levels', params: inspections },
  {
    route: 'POST /api/tables/{table}/levels',
    params: inspections,
    body: {
      levels: [
        { field: 'system', table: 'quay_faults', column: 'system' },
        { field: 'part', table: 'quay_faults', column: 'part' },
      ],
    },
  },
  { route: 'PATCH /api/tables/{table}', body: { title: '{number} {registration}', rules: [rule] } },
  {
    route: 'PATCH /api/tables/{table}/fields/{field}',
    params: { field: 'persons' },
    body: { help: 'Those who sleep aboard.' },
  },
  {
    route: 'POST /api/tables/{table}/fields/{field}/conversion',
    params: { ...inspections, field: 'pages' },
    body: { type: 'wholeNumber' },
  },
  {
    route: 'POST /api/tables/{table}/fields/{field}/type',
    params: { ...inspections, field: 'pages' },
    body: { type: 'wholeNumber' },
  },
  { route: 'POST /api/tables/{table}/fields/{field}/retire', params: { ...inspections, field: 'pages' } },
  { route: 'POST /api/tables/{table}/fields/{field}/return', params: { ...inspections, field: 'pages' } },
  {
    route: 'POST /api/tables/{table}/fields/copy',
    params: inspections,
    body: { from: 'quay_stays', fields: ['note'] },
  },
  { route: 'POST /api/tables/{table}/trial', body: { kind: 'required', field: 'berth' } },
  { route: 'POST /api/tables/{table}/rule-trial', body: { rule } },
  { route: 'PATCH /api/tables/{table}', body: { ripples: [ripple] } },
  { route: 'POST /api/tables/{table}/ripple-trial', body: { ripple, record: 1 } },
  { route: 'GET /api/tables/{table}/ripples/{ripple}/missed', params: { ripple: 'long_stays' } },
  { route: 'POST /api/tables/{table}/constraints', body: { constraint: noOverlap } },
  { route: 'DELETE /api/tables/{table}/constraints/{constraint}', params: { constraint: 'one_vessel_a_berth' } },
  { route: 'POST /api/tables/{table}/lines', body: { label: 'Services used' } },
  { route: 'POST /api/tables/{table}/use', params: { table: 'quay_faults' }, body: { table: 'quay_stays' } },
  { route: 'POST /api/cabinets/{cabinet}/forms', body: { table: 'quay_stays', label: 'Quick stay', fields: 'none' } },
  { route: 'PUT /api/forms/{form}/draft', params: quick, body: { definition: quickStay, revision: 1 } },
  { route: 'GET /api/forms/{form}/draft', params: quick },
  { route: 'POST /api/forms/{form}/draft/choices', params: quick, body: { field: 'pontoon', values: { harbour: 1 } } },
  { route: 'POST /api/forms/{form}/draft/lookups', body: { field: 'registration', key: 'GS-0421' } },
  { route: 'POST /api/forms/{form}/draft/replay' },
  {
    route: 'POST /api/forms/{form}/draft/checks',
    params: quick,
    body: { field: 'pontoon', values: { harbour: 1, pontoon: 1 } },
  },
  { route: 'POST /api/forms/{form}/draft/why', params: quick, body: { field: 'pontoon', values: { harbour: 1 } } },
  {
    route: 'POST /api/forms/{form}/draft/files',
    params: quick,
    query: { field: 'papers', name: 'papers.txt' },
    file: 'Insured until 2027.',
  },
  { route: 'POST /api/forms/{form}/draft/entries', params: quick, body: { values: { harbour: 1, pontoon: 1 } } },
  { route: 'POST /api/forms/{form}/trial', body: { rule } },
  { route: 'POST /api/forms/{form}/publish', params: quick, body: { revision: 2 } },
  {
    route: 'POST /api/forms/{form}/files',
    params: quick,
    query: { field: 'papers', name: 'papers.txt' },
    file: 'Insured until 2027.',
  },
  { route: 'POST /api/tables/{table}/fields', params: inspections, body: field('Photo', 'attachments') },
  {
    route: 'POST /api/cabinets/{cabinet}/forms',
    body: { table: 'quay_inspections', label: 'Photo of a fault', fields: 'none' },
  },
  { route: 'PUT /api/forms/{form}/draft', params: photoForm, body: { definition: photo, revision: 1 } },
  { route: 'POST /api/forms/{form}/publish', params: photoForm, body: { revision: 2 } },
  {
    route: 'POST /api/public/{slug}/files',
    by: 'nobody',
    params: { slug: 'photo' },
    query: { field: 'photo', name: 'cleat.txt' },
    file: 'A drawing of the cleat.',
  },
  { route: 'POST /api/tables/{table}/fields', params: { table: 'quay_harbours' }, body: field('E-mail', 'email') },
  {
    route: 'POST /api/cabinets/{cabinet}/forms',
    body: { table: 'quay_stays', label: 'Invited stay', fields: 'none' },
  },
  { route: 'PUT /api/forms/{form}/draft', params: invited, body: { definition: invitedStay, revision: 1 } },
  { route: 'POST /api/forms/{form}/publish', params: invited, body: { revision: 2 } },
  { route: 'POST /api/forms/{form}/personal-links', params: invited, body: { once: true, until: '2099-12-31' } },
  {
    route: 'GET /api/forms/{form}/personal-links',
    params: invited,
    keeps: { '<personal link>': 'links.0.id' },
  },
  {
    route: 'POST /api/forms/{form}/personal-links/mails',
    params: invited,
    body: { to: 'e_mail', subject: 'Your stay, {title}', text: 'Tell us about your stay: {link}' },
  },
  { route: 'DELETE /api/forms/{form}/personal-links/{id}', params: { ...invited, id: '<personal link>' } },
  { route: 'GET /api/forms/{form}/versions', params: quick },
  { route: 'POST /api/forms/{form}/duplicate', params: quick, body: { label: 'Quick stay, evenings' } },
  { route: 'PATCH /api/forms/{form}', params: quick, body: { archived: true } },
  { route: 'GET /api/schemas/cabinet-file.json', by: 'nobody' },
  { route: 'GET /api/cabinets/{cabinet}/export' },
  {
    route: 'POST /api/cabinets/{cabinet}/cabinet-file',
    params: { cabinet: 'tern_roads' },
    query: { file: 'quay.zip' },
    file: '<cabinet file>',
  },
  { route: 'GET /api/cabinets/{cabinet}/ledger', query: { table: 'quay_stays', limit: 20 } },
  { route: 'GET /api/cabinets/{cabinet}/ledger/lines', query: { table: 'quay_stays', as: 'csv' } },
  { route: 'PUT /api/cabinets/{cabinet}/ledger/receipt-mail', body: { address: 'auditor@sound.example' } },
  { route: 'GET /api/cabinets/{cabinet}/ledger/receipt-mail' },
  { route: 'GET /api/cabinets/{cabinet}/ledger/overview', query: { value: 'storm' } },
  { route: 'GET /api/cabinets/{cabinet}/ledger/receipt' },
  { route: 'GET /api/cabinets/{cabinet}/ledger/export' },
  { route: 'POST /api/cabinets/{cabinet}/verifications', body: {}, keeps: { '<task>': 'id' } },
  { route: 'GET /api/cabinets/{cabinet}/tasks' },
  { route: 'GET /api/cabinets/{cabinet}/tasks/{task}', params: { task: '<task>' } },
  { route: 'POST /api/cabinets/{cabinet}/tasks/{task}/cancel', params: { task: '<task>' }, body: {} },
];
