import { formatCount } from '../office/index.ts';

/**
 * What people are told of: a record names them now, a record that they watch was changed, records of a view that they
 * watch were, answers have come to a form that they watch, work of theirs in the background has ended.
 */
export const NOTICE_KINDS = ['assigned', 'changed', 'view', 'answers', 'task'] as const;
export type NoticeKind = (typeof NOTICE_KINDS)[number];

/** The kinds as somebody chooses which of them come by mail too. */
export const NOTICE_LABELS: Readonly<Record<NoticeKind, string>> = {
  assigned: 'A record is assigned to me',
  changed: 'A record that I watch is changed',
  view: 'Records of a view that I watch are added or changed',
  answers: 'Somebody answers the public page of a form that I watch',
  task: 'An import, or other long work of mine, has ended',
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
  done: 'is done',
  failed: 'has failed',
  cancelled: 'was cancelled',
};

/** A notice as people read it. */
export function noticeWords({ kind, by, times, table, title, view, form, task }: NoticeContent): NoticeWords {
  const subject = [table, title ?? view].filter((part) => part !== null).join(': ');
  if (kind === 'task') {
    const end = TASK_ENDS[task?.state ?? ''] ?? 'has ended';
    return {
      before: '',
      subject: task?.label ?? 'Work in the background',
      after: task?.state === 'failed' && task.message ? `${end}: ${task.message}` : end,
    };
  }
  if (kind === 'changed') return { before: `${by} changed`, subject, after: times > 1 ? `(${times} changes)` : '' };
  if (kind === 'answers')
    return {
      before: times === 1 ? 'An answer has come to' : `${formatCount(times)} answers have come to`,
      subject: form ?? '',
      after: '',
    };
  if (kind === 'view')
    return {
      before:
        times === 1 ? `${by} added or changed a record in` : `${formatCount(times)} records were added or changed in`,
      subject,
      after: times === 1 ? '' : `, last by ${by}`,
    };
  if (title === null)
    return {
      before: `${by} assigned ${times === 1 ? 'a record' : `${formatCount(times)} records`} of`,
      subject,
      after: 'to you',
    };
  return { before: `${by} assigned`, subject, after: 'to you' };
}

/** The same in one line. */
export const noticeLine = (notice: NoticeContent): string => {
  const { before, subject, after } = noticeWords(notice);
  return [before, subject, after]
    .filter((part) => part !== '')
    .join(' ')
    .replace(' ,', ',');
};
