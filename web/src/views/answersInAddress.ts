import { type AskedAnswers, answersSchema, withAnswers } from '@fiche/core/conditions';
import type { Listing } from '@fiche/core/views';

/** The name of the answers in an address. */
export const ASKED = 'asked';
/** The name of the record whose card stands beside the list. */
export const CARD = 'beside';

/** The answers to what a view asks each time, as the address of the page has them. */
export function answersIn(address: URLSearchParams): AskedAnswers {
  try {
    const read = answersSchema.safeParse(JSON.parse(address.get(ASKED) ?? '[]'));
    return read.success ? read.data : [];
  } catch {
    return [];
  }
}

/** The address with other answers. */
export function withAnswersIn(address: URLSearchParams, answers: AskedAnswers): URLSearchParams {
  const next = new URLSearchParams(address);
  if (answers.every((one) => one === null)) next.delete(ASKED);
  else next.set(ASKED, JSON.stringify(answers));
  return next;
}

/** A listing with the answers that the address has. */
export const answered = (listing: Listing, address: URLSearchParams): Listing => ({
  ...listing,
  filter: withAnswers(listing.filter, answersIn(address)),
});

/** What stands behind the address of a card that is opened from a view, so that it goes on through the view. */
export function inView(view: number | undefined, address: URLSearchParams): string {
  const asked = address.get(ASKED);
  const of = { ...(view === undefined ? {} : { view: String(view) }), ...(asked === null ? {} : { [ASKED]: asked }) };
  return Object.keys(of).length === 0 ? '' : `?${new URLSearchParams(of)}`;
}
