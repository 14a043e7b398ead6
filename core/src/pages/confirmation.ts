import { sayLater } from '../languages/index.ts';
/** What the words of a confirmation can name. */
export interface ConfirmationWords {
  readonly reference: string;
  /** What was answered: a line for each field, `Harbour: Tern Cove`. */
  readonly values: readonly string[];
  /** Where the respondent comes back to the answer; undefined where it cannot be corrected. */
  readonly link: string | undefined;
}

/** What can stand in the text of a confirmation, with what takes its place. */
export const CONFIRMATION_PLACES: Readonly<Record<string, string>> = {
  '{reference}': sayLater('the reference of the answer'),
  '{values}': sayLater('what was answered, a line for each field'),
  '{link}': sayLater('the address where the answer can be corrected'),
};

/**
 * The text of a confirmation with its places filled. A place that has nothing stays empty.
 *
 * @example
 * confirmationText('Your reference: {reference}', { reference: 'FR-12', values: [], link: undefined }); // 'Your reference: FR-12'
 */
export const confirmationText = (text: string, { reference, values, link = '' }: ConfirmationWords): string => {
  const of: Readonly<Record<string, string>> = {
    '{reference}': reference,
    '{values}': values.join('\n'),
    '{link}': link,
  };
  return text.replaceAll(/\{(reference|values|link)\}/g, (place) => of[place] ?? place);
};
