export { InboxButton } from './InboxButton.tsx';
export { NoticeSettings } from './NoticeSettings.tsx';
export { OutboxPage } from './OutboxPage.tsx';
export { INBOX } from './useInbox.ts';
export { WatchButton } from './WatchButton.tsx';
