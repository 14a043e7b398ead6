import { all, is } from '@fiche/core/conditions';
import { type DefinedForm, type PlacedField, placeLines, type Subform } from '@fiche/core/forms';
import type { Tables } from '@fiche/core/tables';
import { ARRIVAL_NOTICE } from './arrivalNotice.ts';
import { REPORT_IN_FRENCH } from './french.ts';
import { buildForm, type Placed, type PlannedForm } from './plannedForm.ts';

const column = (path: string) => ({ kind: 'column' as const, path });
const form = (path: string) => ({ kind: 'form' as const, path });

/** The services of a stay: what the tariff of its season offers. */
function servicesUsed(tables: Tables): Subform {
  const table = tables.get('gannet_services_used');
  if (!table) throw new Error('There is no table Services used');
  const own: Record<string, Partial<PlacedField>> = {
    service: {
      narrowing: {
        where: all(is(column('season'), { kind: 'enclosing', path: 'season' })),
        sort: 'item',
        show: ['rate', 'unit'],
        only: false,
      },
      fill: {
        table: 'gannet_tariff',
        key: null,
        whenNone: 'message',
        pairs: [
          { from: 'unit', to: 'unit', policy: 'replace' },
          { from: 'rate', to: 'rate', policy: 'replace' },
        ],
      },
    },
    unit: { readOnly: true },
  };
  const lines = placeLines(table, 'stay', new Set());
  return { ...lines, fields: lines.fields.map((field) => ({ ...field, ...own[field.field] })) };
}

/** What a respondent photographed. */
function photos(tables: Tables): Subform {
  const table = tables.get('gannet_photos');
  if (!table) throw new Error('There is no table Photos');
  return { ...placeLines(table, 'report', new Set()), as: 'cards', most: 10 };
}

const NIGHTS = '(days(arrival, departure) > 0 ? days(arrival, departure) : 1)';

const waived = all(is(form('waived'), { kind: 'constant', value: true }));

/** Where a vessel lies: each level narrows the next. */
const WHERE_MOORED: Placed[] = [
  ['number', { readOnly: true }],
  ['harbour'],
  ['pontoon'],
  [
    'berth',
    {
      narrowing: {
        // The table offers the berths of the chosen pontoon; a check-in only those in use.
        where: all(is(column('in_use'), { kind: 'constant', value: true })),
        sort: null,
        show: ['longest_vessel'],
        only: true,
      },
    },
  ],
];

/** The vessel is found by its registration. */
const VESSEL: Placed[] = [
  [
    'registration',
    {
      help: 'Type it and leave the field: the vessel is found.',
      fill: {
        table: 'gannet_vessels',
        key: 'registration',
        whenNone: 'refuse',
        pairs: [
          { from: 'self', to: 'vessel', policy: 'replace' },
          { from: 'length', to: 'length', policy: 'replace' },
          { from: 'owner.phone', to: 'owners_phone', policy: 'replace' },
        ],
      },
    },
  ],
  ['vessel', { readOnly: true }],
  ['length'],
  ['owners_phone'],
  { card: 'vessel' },
  { card: 'berth' },
];

/** When, and at which rate. */
const STAY: Placed[] = [
  ['arrival'],
  ['departure'],
  [
    'mooring',
    {
      narrowing: {
        where: all(is(column('season'), form('season'))),
        sort: 'item',
        show: ['rate'],
        only: false,
      },
      fill: {
        table: 'gannet_tariff',
        key: null,
        whenNone: 'message',
        pairs: [{ from: 'rate', to: 'nightly_rate', policy: 'replace' }],
      },
    },
  ],
  ['nightly_rate'],
];

/** What is due, and whether it is waived. */
const DUES: Placed[] = [
  [
    'dues',
    {
      calculation: `${NIGHTS} * nightly_rate + sum(services_used.amount)`,
      help: 'Nights, at least one, at the nightly rate, and the services.',
    },
  ],
  ['waived'],
  ['reason', { shownWhen: waived, requiredWhen: waived, help: 'Who decided, and why.' }],
];

/** Asked about when a vessel stays longer than it is insured. */
const INSURED: DefinedForm['rules'][number] = {
  id: 'insured',
  kind: 'ask',
  when: null,
  examples: [
    { values: { departure: '2026-08-19T10:00', 'vessel.insured_until': '2026-12-31' }, passes: true },
    { values: { departure: '2027-01-02T10:00', 'vessel.insured_until': '2026-12-31' }, passes: false },
  ],
  at: 'departure',
  message: 'The insurance of this vessel ends before its departure.',
  must: { kind: 'expression', source: 'days(departure, vessel.insured_until) >= 0' },
};

/** The forms of Gannet Sound. */
export const FORMS: readonly PlannedForm[] = [
  {
    table: 'gannet_stays',
    label: 'Check-in',
    build: (tables) => ({
      ...buildForm(tables, 'gannet_stays', 'Check-in', [
        ['', 4, WHERE_MOORED],
        ['Vessel', 4, VESSEL],
        ['Stay', 4, STAY],
        ['Services used', 1, [servicesUsed(tables)]],
        ['Dues', 4, DUES],
      ]),
      rules: [INSURED],
    }),
  },
  {
    table: 'gannet_vessels',
    label: 'Vessel card',
    build: (tables) => ({
      starts: [
        {
          label: 'Check in',
          form: 'gannet_check_in',
          pairs: [{ from: 'registration', to: 'registration' }],
        },
      ],
      ...buildForm(tables, 'gannet_vessels', 'Vessel card', [
        [
          '',
          3,
          [
            ['name'],
            ['registration'],
            ['type'],
            ['length'],
            ['draught'],
            ['insured_until'],
            ['owner', { narrowing: { where: all(), sort: null, show: ['kind'], only: false, adds: true } }],
          ],
        ],
      ]),
    }),
  },
  {
    table: 'gannet_berths',
    label: 'Berth inspection round',
    build: (tables, views) => ({
      ...buildForm(tables, 'gannet_berths', 'Berth inspection round', [
        [
          '',
          1,
          [
            ['number', { readOnly: true }],
            ['pontoon', { readOnly: true }],
            ['longest_vessel'],
            ['deepest_draught'],
            ['in_use'],
          ],
        ],
      ]),
      may: { add: false, change: true, archive: false },
      opensOn: 'rows',
      view: views.get('Berths of one harbour') ?? null,
    }),
  },
  {
    table: 'gannet_owners',
    label: 'Owner card',
    build: (tables) =>
      buildForm(tables, 'gannet_owners', 'Owner card', [
        ['', 3, [['name'], ['kind'], ['e_mail'], ['phone'], ['address']]],
        [
          'Shares',
          3,
          [
            ['lead'],
            [
              'lead_owner',
              {
                narrowing: {
                  where: all(),
                  sort: null,
                  show: ['kind'],
                  only: false,
                },
              },
            ],
          ],
        ],
      ]),
  },
  {
    table: 'gannet_fault_reports',
    label: 'Report a fault',
    build: (tables) => ({
      ...buildForm(tables, 'gannet_fault_reports', 'Report a fault', [
        ['Where', 2, [['harbour'], ['pontoon']]],
        [
          'What',
          3,
          [
            ['system', { label: 'What is broken' }],
            ['part', { label: 'Which part' }],
            ['defect', { label: 'What is wrong with it' }],
          ],
        ],
        ['Photos', 1, [photos(tables)]],
        [
          'You',
          2,
          [
            ['what_happened', { help: 'Anything that helps the duty boat find it.' }],
            ['reporter', { label: 'Your name' }],
            ['e_mail', { label: 'Your e-mail' }],
          ],
        ],
      ]),
      page: {
        slug: 'report-a-fault',
        intro: 'Something broken on a pontoon or ashore? Two minutes here and the duty boat knows.',
        thanks: 'Thank you. The duty boat has your report.',
        disclosed: [],
        translations: { fr: REPORT_IN_FRENCH },
        corrections: { until: null },
      },
    }),
  },
  ARRIVAL_NOTICE,
];
