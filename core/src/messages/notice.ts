import { say, sayCount, sayLater } from '../languages/index.ts';

/**
 * What people are told of: a record names them now, a record that they watch was changed, records of a view that they
 * watch were, answers have come to a form that they watch, work of theirs in the background has ended.
 */
export const NOTICE_KINDS = ['assigned', 'changed', 'view', 'answers', 'task'] as const;
export type NoticeKind = (typeof NOTICE_KINDS)[number];

/** The kinds as somebody chooses which of them come by mail too. */
export const NOTICE_LABELS: Readonly<Record<NoticeKind, string>> = {
  assigned: sayLater('A record is assigned to me'),
  changed: sayLater('A record that I watch is changed'),
  view: sayLater('Records of a view that I watch are added or changed'),
  answers: sayLater('Somebody answers the public page of a form that I watch'),
  task: sayLater('An import, or other long work of mine, has ended'),
};

/** What a notice says, as far as its reader may know it. */
export interface NoticeContent {
  readonly kind: NoticeKind;
  /** The account that did it. */
  readonly by: string;
  /** How often while it was not seen; of an import, how many records it assigned; of a view, how many records; of a form, how many answers. */
  readonly times: number;
  /** The label of its table; null for a task that has none. */
  readonly table: string | null;
  /** The title of its record; null where it is about several, or about none. */
  readonly title: string | null;
  /** The label of its view; null where it is about none. */
  readonly view: string | null;
  /** The label of its form; null where it is about none. */
  readonly form: string | null;
  readonly task: { readonly label: string; readonly state: string; readonly message: string | null } | null;
}

/** A sentence in three parts, of which the middle one names what it is about: `harbourmaster changed`, `Stays: S-0031`, `twice`. */
export interface NoticeWords {
  readonly before: string;
  readonly subject: string;
  readonly after: string;
}

const TASK_ENDS: Readonly<Record<string, string>> = {
  done: sayLater('is done'),
  failed: sayLater('has failed'),
  cancelled: sayLater('was cancelled'),
};

/** A notice as people read it. */
export function noticeWords({ kind, by, times, table, title, view, form, task }: NoticeContent): NoticeWords {
  const subject = [table, title ?? view].filter((part) => part !== null).join(': ');
  if (kind === 'task') {
    const end = say(TASK_ENDS[task?.state ?? ''] ?? sayLater('has ended'));
    return {
      before: '',
      subject: task?.label ?? say('Work in the background'),
      after: task?.state === 'failed' && task.message ? `${end}: ${task.message}` : end,
    };
  }
  if (kind === 'changed')
    return {
      before: say('{by} changed', { by }),
      subject,
      after: times > 1 ? sayCount(times, '', '({count} changes)') : '',
    };
  if (kind === 'answers')
    return {
      before: sayCount(times, 'An answer has come to', '{count} answers have come to'),
      subject: form ?? '',
      after: '',
    };
  if (kind === 'view')
    return {
      before: sayCount(times, '{by} added or changed a record in', '{count} records were added or changed in', {
        by: by,
      }),
      subject,
      after: sayCount(times, '', ', last by {by}', { by }),
    };
  if (title === null)
    return {
      before: say('{by} assigned {times} of', { by, times: sayCount(times, 'a record', '{count} records') }),
      subject,
      after: say('to you'),
    };
  return { before: say('{by} assigned', { by }), subject, after: say('to you') };
}

/** The same in one line. */
export const noticeLine = (notice: NoticeContent): string => {
  const { before, subject, after } = noticeWords(notice);
  return [before, subject, after]
    .filter((part) => part !== '')
    .join(' ')
    .replace(' ,', ',');
};
