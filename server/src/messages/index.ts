export { forgetMessages, startMailer } from './mailer.ts';
export { MAIL_SETTINGS_WRONG, mailSettings } from './mailSettings.ts';
export { chooseMailed, mailedNotices } from './notices.ts';
export { notifyAnswered, notifyAssigned, notifyImported, notifyTaskEnded, notifyWatchers } from './notifying.ts';
export { putInOutbox, withdrawLinks } from './outbox.ts';
export { messageRoutes } from './routes.ts';
