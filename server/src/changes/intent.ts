import type { Values } from '@fiche/core/fields';

/** What is to become of a record: other values, another place among those in use, nothing, or why it stays as it is. */
export type Intent =
  | { readonly kind: 'set'; readonly values: Values }
  | { readonly kind: 'archive' | 'restore' | 'same' }
  | { readonly kind: 'refused'; readonly path: string; readonly message: string };
