import { all, is } from '@fiche/core/conditions';
import type { Rule } from '@fiche/core/rules';
import type { Constraint, NewFieldInput, Ripple } from '@fiche/core/tables';

export interface TablePlan {
  readonly label: string;
  readonly description: string;
  readonly fields: readonly NewFieldInput[];
  readonly rules?: readonly Rule[];
  /** What names a record, where it is not the first text. */
  readonly title?: string;
  /** What its reference card shows. */
  readonly card?: readonly string[];
  readonly constraints?: readonly Constraint[];
  /** An option list: its fields are levels. */
  readonly kind?: 'list';
  /** What else is written when its records are saved; set once all tables are there. */
  readonly ripples?: readonly Ripple[];
}

const required = true;
const metres = (label: string, more: Partial<NewFieldInput> = {}): NewFieldInput => ({
  label,
  type: 'decimal',
  settings: { places: 2, unit: 'm', least: 0.1, most: 90 },
  ...more,
});
const link = (label: string, table: string, more: Partial<NewFieldInput> = {}): NewFieldInput => ({
  label,
  type: 'link',
  settings: { table },
  ...more,
});
const level = (label: string, column: string): NewFieldInput => ({
  label,
  type: 'choice',
  settings: { level: { table: 'gannet_faults', column } },
  required,
});
const form = (path: string) => ({ kind: 'form' as const, path });

/** Offers the records of one parent: the pontoons of this record’s harbour. */
const ofParent = (parent: string) => all(is({ kind: 'column', path: parent }, form(parent)));
/** Offers the tariff’s entries of one kind. */
const ofKind = (kind: string) => all(is({ kind: 'column', path: 'kind' }, { kind: 'constant', value: kind }));

export const VESSEL_TYPES = ['Ketch', 'Sloop', 'Cutter', 'Motor cruiser', 'Fishing boat', 'Barge', 'Tender'] as const;

/** Who waived dues, when and why, and what it said before. */
const WAIVERS: Ripple = {
  id: 'waivers',
  label: 'Waivers into the Dues ledger',
  on: ['added', 'changed'],
  fields: ['waived', 'reason'],
  when: {
    kind: 'group',
    match: 'any',
    of: [
      is(form('waived'), { kind: 'constant', value: true }),
      is(form('before__waived'), { kind: 'constant', value: true }),
    ],
  },
  effects: [
    {
      does: 'add',
      table: 'gannet_dues_ledger',
      values: [
        { to: 'stay', from: { kind: 'record' } },
        { to: 'before', from: { kind: 'field', path: 'before__waived' } },
        { to: 'after', from: { kind: 'field', path: 'waived' } },
        { to: 'dues', from: { kind: 'field', path: 'dues' } },
        { to: 'reason', from: { kind: 'field', path: 'reason' } },
        { to: 'by', from: { kind: 'account' } },
        { to: 'at', from: { kind: 'now' } },
        { to: 'what_changed', from: { kind: 'summary' } },
      ],
    },
  ],
  paused: false,
};

/** The tables of Gannet Sound, each after those it links to. */
export const TABLES: readonly TablePlan[] = [
  {
    label: 'Harbours',
    description: 'The three harbours of the authority.',
    fields: [
      { label: 'Name', type: 'text', required, unique: true },
      {
        label: 'Code',
        type: 'text',
        required,
        unique: true,
        settings: { pattern: '[A-Z]{2}', patternMessage: 'Two capital letters, such as GQ.' },
      },
      { label: 'Radio channel', type: 'wholeNumber', settings: { least: 1, most: 88 } },
      { label: 'Office address', type: 'longText' },
    ],
  },
  {
    label: 'Pontoons',
    constraints: [
      {
        kind: 'unique',
        id: 'letter_in_harbour',
        fields: ['harbour', 'letter'],
        message: 'This harbour has a pontoon of this letter already.',
      },
    ],
    description: 'Each belongs to one harbour; letters repeat between harbours.',
    fields: [
      {
        label: 'Letter',
        type: 'text',
        required,
        settings: { pattern: '[A-Z]', patternMessage: 'One capital letter.' },
      },
      link('Harbour', 'gannet_harbours', { required }),
      metres('Depth'),
      { label: 'Power', type: 'yesNo' },
    ],
  },
  {
    label: 'Berths',
    card: ['pontoon', 'longest_vessel', 'deepest_draught', 'pontoon.power'],
    description: 'Where a vessel lies; each belongs to one pontoon.',
    fields: [
      { label: 'Number', type: 'text', required },
      link('Pontoon', 'gannet_pontoons', { required }),
      metres('Longest vessel'),
      metres('Deepest draught'),
      { label: 'In use', type: 'yesNo', initial: { kind: 'value', value: true } },
    ],
  },
  {
    label: 'Owners',
    card: ['kind', 'e_mail', 'phone'],
    description: 'People, firms and syndicates. A share holder belongs to a lead owner; only lead owners are billed.',
    fields: [
      { label: 'Name', type: 'text', required },
      { label: 'Kind', type: 'choice', settings: { choices: ['Person', 'Firm', 'Syndicate'] }, required },
      { label: 'E-mail', type: 'email' },
      { label: 'Phone', type: 'phone' },
      { label: 'Address', type: 'longText' },
      { label: 'Lead', type: 'yesNo', initial: { kind: 'value', value: true } },
      link('Lead owner', 'gannet_owners', {
        help: 'For a share holder: the owner that is billed.',
        narrowing: all(is({ kind: 'column', path: 'lead' }, { kind: 'constant', value: true })),
      }),
    ],
  },
  {
    label: 'Vessels',
    card: ['registration', 'type', 'length', 'draught', 'owner', 'owner.phone', 'insured_until'],
    rules: [
      {
        id: 'tender_is_small',
        kind: 'stop',
        when: {
          kind: 'group',
          match: 'all',
          of: [{ kind: 'compare', left: form('type'), operator: 'is', right: { kind: 'constant', value: 'Tender' } }],
        },
        examples: [
          { values: { type: 'Tender', length: 6 }, passes: true },
          { values: { type: 'Tender', length: 6.1 }, passes: false },
          { values: { type: 'Ketch', length: 6.1 }, passes: true },
        ],
        at: 'length',
        message: 'A tender is at most 6 m. Check its length, or choose another type.',
        must: { kind: 'compare', left: form('length'), operator: 'atMost', right: { kind: 'constant', value: 6 } },
      },
    ],
    description: 'Every vessel that has lain here.',
    fields: [
      { label: 'Name', type: 'text', required },
      {
        label: 'Registration',
        type: 'text',
        required,
        unique: true,
        settings: { mask: 'GS-0000' },
      },
      { label: 'Type', type: 'choice', settings: { choices: [...VESSEL_TYPES] }, required },
      metres('Length', { required }),
      metres('Draught'),
      link('Owner', 'gannet_owners'),
      { label: 'Insured until', type: 'date' },
    ],
  },
  {
    label: 'Tariff',
    description: 'Mooring rates and services, per season.',
    fields: [
      { label: 'Item', type: 'text', required },
      { label: 'Kind', type: 'choice', settings: { choices: ['Mooring', 'Service'] }, required },
      { label: 'Season', type: 'wholeNumber', settings: { least: 2020, most: 2100 }, required },
      { label: 'Unit', type: 'choice', settings: { choices: ['night', 'visit', 'm³', 'hour'] }, required },
      { label: 'Rate', type: 'amount', settings: { least: 0 }, required },
    ],
  },
  {
    label: 'Stays',
    constraints: [
      {
        kind: 'noOverlap',
        id: 'one_vessel_a_berth',
        same: ['berth'],
        from: 'arrival',
        to: 'departure',
        message: 'Another vessel lies on this berth then. Choose another berth or other times.',
      },
    ],
    description: 'One vessel on one berth, from arrival to departure.',
    ripples: [WAIVERS],
    fields: [
      { label: 'Number', type: 'sequence', settings: { prefix: 'STAY-', withYear: true, width: 5 } },
      link('Harbour', 'gannet_harbours', { required }),
      link('Pontoon', 'gannet_pontoons', { required, narrowing: ofParent('harbour') }),
      link('Berth', 'gannet_berths', { required, narrowing: ofParent('pontoon') }),
      {
        label: 'Registration',
        type: 'text',
        required,
        settings: { mask: 'GS-0000' },
      },
      link('Vessel', 'gannet_vessels'),
      metres('Length'),
      { label: 'Owner’s phone', type: 'text' },
      { label: 'Arrival', type: 'dateTime', required },
      { label: 'Departure', type: 'dateTime', required },
      {
        label: 'Season',
        type: 'wholeNumber',
        calculation: 'year(arrival)',
        help: 'The year of arrival: it decides the tariff.',
      },
      link('Mooring', 'gannet_tariff', { narrowing: ofKind('Mooring') }),
      { label: 'Nightly rate', type: 'amount', settings: { least: 0 } },
      { label: 'Dues', type: 'amount' },
      { label: 'Waived', type: 'yesNo', initial: { kind: 'value', value: false } },
      { label: 'Reason', type: 'longText' },
    ],
    rules: [
      {
        id: 'departure_after_arrival',
        kind: 'stop',
        when: null,
        examples: [],
        at: 'departure',
        message: 'Departure must be after arrival.',
        must: { kind: 'compare', left: form('departure'), operator: 'more', right: form('arrival') },
      },
      {
        id: 'length_fits_berth',
        kind: 'stop',
        when: null,
        examples: [],
        at: 'length',
        message: 'Too long for this berth.',
        must: { kind: 'compare', left: form('length'), operator: 'atMost', right: form('berth.longest_vessel') },
      },
      {
        id: 'draught_fits_berth',
        kind: 'stop',
        when: null,
        examples: [
          { values: { 'vessel.draught': 1.4, 'berth.deepest_draught': 2.5 }, passes: true },
          { values: { 'vessel.draught': 2.6, 'berth.deepest_draught': 2.5 }, passes: false },
        ],
        at: 'berth',
        message: 'The vessel draws more than this berth is deep.',
        must: {
          kind: 'compare',
          left: form('vessel.draught'),
          operator: 'atMost',
          right: form('berth.deepest_draught'),
        },
      },
    ],
  },
  {
    label: 'Dues ledger',
    title: '{stay}',
    description: 'Written by a ripple when dues are waived, or a waiver is changed or withdrawn.',
    fields: [
      link('Stay', 'gannet_stays', { required }),
      { label: 'Before', type: 'yesNo', help: 'Whether the dues were waived before.' },
      { label: 'After', type: 'yesNo', help: 'Whether they are waived since.' },
      { label: 'Dues', type: 'amount' },
      { label: 'Reason', type: 'longText' },
      { label: 'By', type: 'text', required },
      { label: 'At', type: 'dateTime', required },
      { label: 'What changed', type: 'longText' },
    ],
  },
  {
    label: 'Services used',
    title: '{service}',
    description: 'Lines of Stays: what a vessel used besides its berth.',
    fields: [
      link('Stay', 'gannet_stays', { required }),
      link('Service', 'gannet_tariff', { required, narrowing: ofKind('Service') }),
      { label: 'Quantity', type: 'decimal', settings: { places: 2, least: 0.01, most: 9_999 }, required },
      { label: 'Unit', type: 'text' },
      { label: 'Rate', type: 'amount', settings: { least: 0 } },
      { label: 'Amount', type: 'amount', calculation: 'quantity * rate' },
    ],
  },
  {
    label: 'Faults',
    kind: 'list',
    constraints: [
      {
        kind: 'unique',
        id: 'combination',
        fields: ['system', 'part', 'defect'],
        message: 'This combination is in the list already.',
      },
    ],
    description: 'Option list: the allowed combinations of system, part and defect.',
    fields: [
      { label: 'System', type: 'text', required },
      { label: 'Part', type: 'text', required },
      { label: 'Defect', type: 'text', required },
    ],
  },
  {
    label: 'Fault reports',
    description: 'What somebody found broken, most of it from the public page.',
    fields: [
      { label: 'Number', type: 'sequence', settings: { prefix: 'FAULT-', withYear: true, width: 4 } },
      link('Harbour', 'gannet_harbours', { required }),
      link('Pontoon', 'gannet_pontoons', { narrowing: ofParent('harbour') }),
      level('System', 'system'),
      level('Part', 'part'),
      level('Defect', 'defect'),
      { label: 'What happened', type: 'longText' },
      { label: 'Reporter', type: 'text' },
      { label: 'E-mail', type: 'email' },
      { label: 'Assigned to', type: 'account', help: 'Who sees to it. They are told at once.' },
      { label: 'Mended on', type: 'date' },
    ],
  },
  {
    label: 'Photos',
    title: 'caption',
    description: 'Lines of Fault reports: what it looks like.',
    fields: [
      link('Report', 'gannet_fault_reports', { required }),
      {
        label: 'Photo',
        type: 'attachments',
        settings: { kinds: 'pictures', largest: 12, mostCount: 1 },
        required,
      },
      { label: 'Caption', type: 'text' },
      { label: 'Taken on', type: 'date' },
    ],
  },
  {
    label: 'Arrivals',
    title: '{number}',
    description: 'What was sent with the Arrival notice: who comes, with which vessel, and the stay that it made.',
    fields: [
      { label: 'Number', type: 'sequence', settings: { prefix: 'ARR-', withYear: true, width: 4 } },
      link('Owner', 'gannet_owners'),
      link('Vessel', 'gannet_vessels'),
      link('Stay', 'gannet_stays'),
      { label: 'Anything else', type: 'longText' },
    ],
  },
  {
    label: 'Crew',
    title: 'name',
    description: 'Lines of Arrivals: who is aboard.',
    fields: [
      link('Arrival', 'gannet_arrivals', { required }),
      { label: 'Name', type: 'text', required },
      { label: 'Role', type: 'choice', settings: { choices: ['Skipper', 'Crew', 'Guest'] } },
    ],
  },
  {
    label: 'Tide readings',
    description: 'Written by the gauge at Gannet Quay.',
    title: '{at}',
    fields: [
      { label: 'At', type: 'dateTime', required },
      { label: 'Height', type: 'decimal', required, settings: { places: 1, unit: 'm' } },
    ],
  },
];
