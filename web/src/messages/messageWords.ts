import type { MessageView } from '@fiche/core/api';

export const STATE_LABELS: Readonly<Record<MessageView['state'] | 'all', string>> = {
  all: 'All',
  waiting: 'Waiting',
  sent: 'Sent',
  failed: 'Failed',
  kept: 'Not sent',
};

export const KIND_LABELS: Readonly<Record<MessageView['kind'], string>> = {
  invitation: 'Invitation',
  reset: 'Link for a new password',
  notices: 'Notices',
  confirmation: 'Confirmation',
  personalLink: 'Personal link',
  ripple: 'Note of a ripple',
  receipt: 'Receipt of the ledger',
};

/** What has become of a message, in words; `moment` writes a moment. */
export function stateWords(
  { state, tries, nextAt, sentAt }: Pick<MessageView, 'state' | 'tries' | 'nextAt' | 'sentAt'>,
  moment: (at: string) => string,
): string {
  const tried = tries === 1 ? 'tried once' : `tried ${tries} times`;
  switch (state) {
    case 'kept':
      return 'Not sent: no mail server was set up';
    case 'sent':
      return `Sent ${sentAt === null ? '' : moment(sentAt)}`;
    case 'failed':
      return tries === 0 ? 'Failed' : `Failed, ${tried}`;
    case 'waiting':
      return tries === 0 || nextAt === null ? 'Waiting' : `Waiting, ${tried}; again ${moment(nextAt)}`;
  }
}
