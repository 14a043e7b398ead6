import type { PersonView, TokenView } from '@fiche/core/api';
import { formatDay } from '@fiche/core/fields';
import { say } from '@fiche/core/languages';
import { civilOf } from '@fiche/core/office';

/** Writes a moment as the ledger does. */
type ShowMoment = (iso: string) => string;

/** The status of an account in words: whether it can be signed in with, and when it was last used. */
export function accountStatus(
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
    return linkUntil
      ? say('invited; the link expires {linkUntil}', { linkUntil: showMoment(linkUntil) })
      : say('invited; the link has expired');
  const used = lastSeen ? say('now; last used {lastSeen}', { lastSeen: showMoment(lastSeen) }) : 'no';
  return [
    used,
    ...(linkUntil ? [say('a reset link that expires {linkUntil}', { linkUntil: showMoment(linkUntil) })] : []),
    ...(secondFactor ? [say('second factor')] : []),
  ].join('; ');
}

/** The status of a token in words: when it was last used, and when it expires. */
export function tokenStatus(
  { revoked, expires, used }: Pick<TokenView, 'revoked' | 'expires' | 'used'>,
  showMoment: ShowMoment,
  now = new Date(),
): string {
  if (revoked) return say('revoked {revoked}', { revoked: showMoment(revoked) });
  const last = used ? say('last {used}', { used: showMoment(used) }) : say('never yet');
  if (!expires) return last;
  // It expires at midnight after its last day, and that day is shown.
  const day = formatDay(civilOf(new Date(Date.parse(expires) - 60_000)).slice(0, 10));
  return Date.parse(expires) <= now.getTime()
    ? say('expired after {day}', { day })
    : say('{last}; expires after {day}', { last, day });
}
