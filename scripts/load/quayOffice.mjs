// A small office made over HTTP from nothing, for the commands that kill servers and databases under load.
import { randomUUID } from 'node:crypto';

const PASSWORD = `quay ${randomUUID()}`;
/** Who made the office, and how they sign in. */
export const CREDENTIALS = { login: 'harbourmaster', password: PASSWORD };
/** Every stay that is added sets off a line of the log. */
const LOG_RIPPLE = {
  id: 'log',
  label: 'Log',
  on: ['added'],
  when: { kind: 'group', match: 'all', of: [] },
  effects: [
    {
      does: 'add',
      table: 'quay_log',
      values: [
        { to: 'stay', from: { kind: 'record' } },
        { to: 'what', from: { kind: 'field', path: 'name' } },
      ],
    },
  ],
};

/** The form with a second table: the owner of a stay is found by name, or added, and the stay points there. */
const withOwner = (definition) => ({
  ...definition,
  destinations: {
    of: [{ id: 'owner', table: 'quay_owners', does: 'findOrAdd', key: ['name'], over: 'blanks', several: 'refuse' }],
    links: [{ of: 'self', field: 'owner', to: 'owner' }],
    copies: [],
  },
  sections: definition.sections.map((section, at) => ({
    ...section,
    items: [
      ...section.items.filter((item) => item.field !== 'owner'),
      ...(at === 0 ? [{ kind: 'field', field: 'owner__name' }] : []),
    ],
  })),
});

/** Makes the office, with a form over two tables that has lines and sets off a ripple. Gives the ids of its form and subform. */
export async function makeQuay(caller, firstLink) {
  const { must } = caller;
  await must('POST', '/api/first-administrator', {
    token: firstLink,
    ...CREDENTIALS,
    displayName: 'Harbour master',
    cabinet: 'Quay',
  });
  await caller.signIn(CREDENTIALS);
  for (const label of ['Owners', 'Stays', 'Services', 'Berths', 'Log'])
    await must('POST', '/api/cabinets/quay/tables', { label });
  for (const [table, field] of [
    ['quay_owners', { label: 'Name', type: 'text' }],
    ['quay_stays', { label: 'Name', type: 'text' }],
    ['quay_stays', { label: 'Owner', type: 'link', settings: { table: 'quay_owners' } }],
    ['quay_services', { label: 'Stay', type: 'link', settings: { table: 'quay_stays' } }],
    ['quay_services', { label: 'Item', type: 'text' }],
    ['quay_berths', { label: 'Number', type: 'text' }],
    ['quay_log', { label: 'Stay', type: 'link', settings: { table: 'quay_stays' } }],
    ['quay_log', { label: 'What', type: 'text' }],
  ])
    await must('POST', `/api/tables/${table}/fields`, { field });
  await must('PATCH', '/api/tables/quay_stays', { ripples: [LOG_RIPPLE] });
  const made = await must('POST', '/api/cabinets/quay/forms', {
    table: 'quay_stays',
    label: 'Check-in',
    subforms: ['quay_services.stay'],
  });
  const form = made.body.id;
  const draft = await must('GET', `/api/forms/${form}/draft`);
  const saved = await must('PUT', `/api/forms/${form}/draft`, {
    definition: withOwner(draft.body.definition),
    revision: draft.body.revision,
  });
  await must('POST', `/api/forms/${form}/publish`, { revision: saved.body.revision });
  const [subform] = draft.body.definition.sections.flatMap((one) => one.items).filter((one) => one.kind === 'subform');
  return { form, subform: subform.id };
}
