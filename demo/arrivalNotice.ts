import { type Destinations, destinationsSchema } from '@fiche/core/destinations';
import { placeLines, type Subform } from '@fiche/core/forms';
import type { Tables } from '@fiche/core/tables';
import { buildForm, type PlannedForm } from './plannedForm.ts';

/** The form of the sample that writes into several tables, for staff and at a public page. */
export const ARRIVAL_NOTICE: PlannedForm = {
  table: 'gannet_arrivals',
  label: 'Arrival notice',
  build: (tables) => ({
    ...buildForm(
      tables,
      'gannet_arrivals',
      'Arrival notice',
      [
        [
          'You',
          2,
          [
            ['owner__name', { label: 'Your name' }],
            ['owner__kind', { label: 'You are' }],
            ['owner__e_mail', { required: true }],
            ['owner__phone'],
          ],
        ],
        [
          'Your vessel',
          3,
          [
            ['vessel__registration'],
            ['vessel__name', { label: 'Name of the vessel' }],
            ['vessel__type'],
            ['vessel__length'],
            ['vessel__draught'],
          ],
        ],
        [
          'Your stay',
          3,
          [['stay__harbour'], ['stay__pontoon'], ['stay__berth'], ['stay__arrival'], ['stay__departure']],
        ],
        ['Who comes', 1, [crew(tables), ['anything_else']]],
      ],
      ARRIVAL_DESTINATIONS,
    ),
    page: {
      slug: 'arrival-notice',
      intro:
        'Tell the office that you come, and choose your berth. Whoever has been here before is known by e-mail and registration.',
      thanks: 'Thank you. Your berth is kept for you.',
      disclosed: [],
      steps: true,
      corrections: { until: null },
      confirmation: {
        to: 'owner__e_mail',
        subject: 'Your arrival notice {reference}',
        text: 'Thank you for your arrival notice.\n\n{values}\n\nTo correct it, open {link}',
      },
      consent:
        'The office keeps your name, e-mail and phone with your vessel to reach you while you are here, and for the dues.',
    },
  }),
};

/** Owners are known by e-mail and vessels by registration; each notice makes a stay, and the arrival points at all three. */
const ARRIVAL_DESTINATIONS: Destinations = destinationsSchema.parse({
  of: [
    { id: 'owner', table: 'gannet_owners', does: 'findOrAdd', key: ['e_mail'], several: 'ask' },
    { id: 'vessel', table: 'gannet_vessels', does: 'findOrAdd', key: ['registration'] },
    { id: 'stay', table: 'gannet_stays', does: 'add' },
  ],
  links: [
    { of: 'self', field: 'owner', to: 'owner' },
    { of: 'self', field: 'vessel', to: 'vessel' },
    { of: 'self', field: 'stay', to: 'stay' },
    { of: 'vessel', field: 'owner', to: 'owner' },
    { of: 'stay', field: 'vessel', to: 'vessel' },
  ],
  copies: [
    { from: 'vessel__registration', of: 'stay', to: 'registration' },
    { from: 'vessel__length', of: 'stay', to: 'length' },
    { from: 'owner__phone', of: 'stay', to: 'owners_phone' },
  ],
});

/** Who is aboard. */
function crew(tables: Tables): Subform {
  const table = tables.get('gannet_crew');
  if (!table) throw new Error('There is no table Crew');
  return { ...placeLines(table, 'arrival', new Set()), label: 'Who is aboard' };
}
