export {
  invitationMail,
  LINK_PLACEHOLDER,
  type Mail,
  type MailedNotice,
  noticesMail,
  resetMail,
  withLink,
} from './mail.ts';
export {
  NOTICE_KINDS,
  NOTICE_LABELS,
  type NoticeContent,
  type NoticeKind,
  type NoticeWords,
  noticeLine,
  noticeWords,
} from './notice.ts';
