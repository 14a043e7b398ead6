import { type DefinedForm, withTexts } from '@fiche/core/forms';
import { textIn } from '@fiche/core/languages';
import type { Definitions } from '../definitions/index.ts';

/** A form with definitions over whose tables it runs. */
interface FormRead {
  readonly definition: DefinedForm;
  readonly definitions: Definitions;
}

const known = new WeakMap<DefinedForm, { readonly of: Definitions; readonly byLanguage: Map<string, FormRead> }>();

/**
 * A form of a public page and the definitions that it runs over, with the texts that its builder gave in a language; as they are
 * where there are none. Made once a language for as long as the definitions stand.
 */
export function inLanguage(definitions: Definitions, definition: DefinedForm, language: string): FormRead {
  const texts = definition.page?.translations?.[language];
  if (!texts) return { definition, definitions };
  const before = known.get(definition);
  const here = before?.of === definitions ? before : { of: definitions, byLanguage: new Map<string, FormRead>() };
  known.set(definition, here);
  const made = here.byLanguage.get(language);
  if (made) return made;
  const read = withTexts({ definition, tables: definitions.tables }, (text) => textIn(texts, text));
  const form = { definition: read.definition, definitions: { ...definitions, tables: read.tables } };
  here.byLanguage.set(language, form);
  return form;
}
