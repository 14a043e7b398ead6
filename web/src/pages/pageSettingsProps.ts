import type { DefinedForm } from '@fiche/core/forms';
import type { PublicPage } from '@fiche/core/pages';
import type { Tables } from '@fiche/core/tables';

/** What each group of settings of a public page works with. */
export interface PageSettingsProps {
  readonly definition: DefinedForm;
  readonly page: PublicPage;
  readonly tables: Tables;
  /** Sets some of its settings; one that is undefined is the usual again. */
  onSet(change: { readonly [K in keyof PublicPage]?: PublicPage[K] | undefined }): void;
}
