import { say } from '@fiche/core/languages';
import type { PublicPage } from '@fiche/core/pages';

/** The address that a form’s name proposes: `Report a fault` gives `report-a-fault`. */
const slugOf = (label: string): string =>
  label
    .toLowerCase()
    .normalize('NFKD')
    .replace(/[^a-z0-9]+/g, '-')
    .replace(/^-+|-+$/g, '')
    .slice(0, 50) || 'form';

/** A public page as it begins, for a form of this name. */
export const newPage = (label: string): PublicPage => ({
  slug: slugOf(label),
  intro: '',
  thanks: say('Thank you. Your answers have arrived.'),
  disclosed: [],
});
