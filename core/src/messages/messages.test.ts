import { expect, test } from 'vitest';
import { LINK_PLACEHOLDER, type NoticeContent, noticeLine, noticesMail, resetMail, withLink } from './index.ts';

const notice = (more: Partial<NoticeContent>): NoticeContent => ({
  kind: 'changed',
  by: 'harbourmaster',
  times: 1,
  table: 'Stays',
  title: 'S-2026-0031',
  view: null,
  form: null,
  task: null,
  ...more,
});
const task = (state: string, message: string | null = null) =>
  notice({ kind: 'task', table: null, title: null, task: { label: 'Importing vessels.csv', state, message } });

test('a notice reads as a sentence that names who did what', () => {
  expect(noticeLine(notice({}))).toBe('harbourmaster changed Stays: S-2026-0031');
  expect(noticeLine(notice({ times: 3 }))).toBe('harbourmaster changed Stays: S-2026-0031 (3 changes)');
  expect(noticeLine(notice({ kind: 'assigned' }))).toBe('harbourmaster assigned Stays: S-2026-0031 to you');
  expect(noticeLine(notice({ kind: 'assigned', title: null, times: 1 }))).toBe(
    'harbourmaster assigned a record of Stays to you',
  );
  expect(noticeLine(notice({ kind: 'assigned', title: null, times: 1200 }))).toMatch(
    /^harbourmaster assigned 1.?200 records of Stays to you$/,
  );
  const view = { kind: 'view', title: null, view: 'Overdue' } as const;
  expect(noticeLine(notice(view))).toBe('harbourmaster added or changed a record in Stays: Overdue');
  expect(noticeLine(notice({ ...view, times: 3 }))).toBe(
    '3 records were added or changed in Stays: Overdue, last by harbourmaster',
  );
  const answers = { kind: 'answers', title: null, form: 'Report a fault' } as const;
  expect(noticeLine(notice(answers))).toBe('An answer has come to Report a fault');
  expect(noticeLine(notice({ ...answers, times: 12 }))).toBe('12 answers have come to Report a fault');
  expect(noticeLine(task('done'))).toBe('Importing vessels.csv is done');
  expect(noticeLine(task('failed', 'Check the file first.'))).toBe(
    'Importing vessels.csv has failed: Check the file first.',
  );
  expect(noticeLine(task('cancelled', 'Cancelled.'))).toBe('Importing vessels.csv was cancelled');
});

test('a mail of one notice has it as subject; one of several counts them and says where to change that', () => {
  const one = { ...notice({}), address: 'https://fiche.gannet.example/gannet/tables/gannet_stays/31' };
  expect(noticesMail('Gannet Sound', [one], 'https://fiche.gannet.example/gannet/account').subject).toBe(
    'harbourmaster changed Stays: S-2026-0031',
  );
  const { subject, body } = noticesMail('Gannet Sound', [one, { ...one, kind: 'assigned' }], 'https://a.example');
  expect(subject).toBe('2 notices from Gannet Sound');
  expect(body).toContain('harbourmaster changed Stays: S-2026-0031\nhttps://fiche.gannet.example/gannet/tables');
  expect(body).toContain('“A record that I watch is changed”, “A record is assigned to me”');
  expect(() => noticesMail('Gannet Sound', [], '')).toThrow();
});

test('a link stands in the text only where it is put in, whatever characters it has', () => {
  const { body } = resetMail({ displayName: 'Ailsa', login: 'ailsa', by: 'Innes', expires: '2026-08-17 09:00' });
  expect(withLink(body, 'https://a.example/password#$&x')).toContain('https://a.example/password#$&x');
  expect(withLink(body, LINK_PLACEHOLDER)).not.toContain('{link}');
});
