import type { PersonView, TokenView } from '@fiche/core/api';
import { formatDay } from '@fiche/core/fields';
import { civilOf } from '@fiche/core/office';

/** Writes a moment as the ledger does. */
type ShowMoment = (iso: string) => string;

/** How it stands with an account, in words: whether it can be signed in with, and when it was last used. */
export function accountStanding(
  {
    closed,
    invited,
    linkUntil,
    lastSeen,
    secondFactor,
  }: Pick<PersonView, 'closed' | 'invited' | 'linkUntil' | 'lastSeen' | 'secondFactor'>,
  showMoment: ShowMoment,
): string {
  if (closed) return 'closed';
  if (invited)
    return linkUntil ? `invited; the link is good until ${showMoment(linkUntil)}` : 'invited; the link is too old';
  const used = lastSeen ? `now; last used ${showMoment(lastSeen)}` : 'no';
  return [
    used,
    ...(linkUntil ? [`a link for a new password until ${showMoment(linkUntil)}`] : []),
    ...(secondFactor ? ['second factor'] : []),
  ].join('; ');
}

/** How it stands with a token, in words: when it was last used, and until when it is good. */
export function tokenStanding(
  { revoked, expires, used }: Pick<TokenView, 'revoked' | 'expires' | 'used'>,
  showMoment: ShowMoment,
  now = new Date(),
): string {
  if (revoked) return `revoked ${showMoment(revoked)}`;
  const last = used ? `last ${showMoment(used)}` : 'never yet';
  if (!expires) return last;
  // It ends with its last day, at midnight: what is said is that day.
  const day = formatDay(civilOf(new Date(Date.parse(expires) - 60_000)).slice(0, 10));
  return Date.parse(expires) <= now.getTime() ? `ended with ${day}` : `${last}; good until ${day}`;
}
