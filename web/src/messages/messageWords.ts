import type { MessageView } from '@fiche/core/api';
import { say, sayCount } from '@fiche/core/languages';

export const STATE_LABELS: Readonly<Record<MessageView['state'] | 'all', string>> = {
  all: say('All'),
  waiting: say('Waiting'),
  sent: say('Sent'),
  failed: say('Failed'),
  kept: say('Not sent'),
};

export const KIND_LABELS: Readonly<Record<MessageView['kind'], string>> = {
  invitation: say('Invitation'),
  reset: say('Link for a new password'),
  notices: say('Notices'),
  confirmation: say('Confirmation'),
  personalLink: say('Personal link'),
  ripple: say('Note of a ripple'),
  receipt: say('Receipt of the ledger'),
};

/** What has become of a message, in words; `moment` writes a moment. */
export function stateWords(
  { state, tries, nextAt, sentAt }: Pick<MessageView, 'state' | 'tries' | 'nextAt' | 'sentAt'>,
  moment: (at: string) => string,
): string {
  const tried = sayCount(tries, 'tried once', 'tried {count} times');
  switch (state) {
    case 'kept':
      return say('Not sent: no mail server was set up');
    case 'sent':
      return say('Sent {sentAt}', { sentAt: sentAt === null ? '' : moment(sentAt) });
    case 'failed':
      return tries === 0 ? say('Failed') : say('Failed, {tried}', { tried });
    case 'waiting':
      return tries === 0 || nextAt === null
        ? say('Waiting')
        : say('Waiting, {tried}; again {nextAt}', { tried, nextAt: moment(nextAt) });
  }
}
