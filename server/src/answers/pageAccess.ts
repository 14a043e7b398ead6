import { say } from '@fiche/core/languages';
import { type PublicPage, sameCode } from '@fiche/core/pages';
import type { IdOfForm, RecordId, TableId } from '@fiche/core/tables';
import type { FastifyRequest } from 'fastify';
import { ask, type Database, numberOfToken } from '../database/index.ts';
import { addressOf, countTry, Refusal, tooMany } from '../http/index.ts';

/** A personal link as its page knows it. */
export interface PersonalLink {
  readonly id: number;
  readonly table: TableId;
  readonly record: RecordId;
  /** Good for one answer. */
  readonly once: boolean;
  readonly used: boolean;
  readonly withdrawn: boolean;
  /** Its last moment is over. */
  readonly late: boolean;
}

/** How somebody came into a page: by its address alone, by a code, or by a personal link. */
export interface PageAccess {
  /** The label of the code. */
  readonly code?: string;
  readonly link?: PersonalLink;
}

/** Why a page lets somebody not in. */
export type AccessProblem = 'code' | 'wrongCode' | 'link' | 'used' | 'withdrawn' | 'late';

const WORDS: Readonly<Record<AccessProblem, () => string>> = {
  code: () => say('This page opens with a code. Type the code that you were given.'),
  wrongCode: () => say('This code does not open the page. Check it and type it again.'),
  link: () => say('This page opens by a personal link only. Use the link that you were sent.'),
  used: () => say('This personal link was used already, and it is good for one answer.'),
  withdrawn: () => say('This personal link was withdrawn. Ask the office for another one.'),
  late: () => say('This personal link is over. Ask the office for another one.'),
};

/** A page that does not let somebody in: `why` tells the page what to ask for. */
export class AccessRefused extends Refusal {
  constructor(readonly why: AccessProblem) {
    super(403, WORDS[why]());
  }
}

/** Wrong codes from one address to one page in that time, in seconds. */
const WRONG_CODES = 20;
const WRONG_CODE_SECONDS = 600;

const header = (request: FastifyRequest, name: string): string => {
  const sent = request.headers[name];
  return typeof sent === 'string' ? sent.slice(0, 200) : '';
};

/** What a personal link signs, for its form. */
export const linkSigned = (form: IdOfForm): string => `personal link ${form}`;

/** A personal link of a form by the token in its address; undefined where it is none. */
export async function linkOfToken(
  database: Database,
  form: IdOfForm,
  token: string,
  now: string,
): Promise<PersonalLink | undefined> {
  const id = await numberOfToken(database, linkSigned(form), token);
  if (id === undefined) return undefined;
  const [row] = await ask<PersonalLink>(
    database,
    `SELECT l.id, l.table_id AS "table", l.record, l.once, l.withdrawn, coalesce(l.until < ?::timestamp, false) AS late,
       EXISTS (SELECT FROM fiche.answer a WHERE a.link_id = l.id) AS used
     FROM fiche.personal_link l WHERE l.id = ? AND l.form_id = ?`,
    [now, id, form],
  );
  return row;
}

/**
 * How a request came into a page: by the code in the header `x-fiche-code` or the personal link in `x-fiche-link`, where the
 * page asks for one. Where it `sends` an answer, the database decides whether the link was used already: the same answer may
 * come twice. Throws `AccessRefused`, and 429 after too many wrong codes. Civil `now`.
 */
export async function accessOf(
  database: Database,
  request: FastifyRequest,
  form: IdOfForm,
  { who, slug }: PublicPage,
  now: string,
  sends = false,
): Promise<PageAccess> {
  if (who?.kind === 'code') {
    const typed = header(request, 'x-fiche-code');
    if (typed === '') throw new AccessRefused('code');
    const code = who.codes.find((one) => sameCode(one.code) === sameCode(decoded(typed)));
    if (code) return { code: code.label };
    const what = `codes:${slug}:${addressOf(request.ip)}`;
    const { count, left } = await countTry(database, what, WRONG_CODE_SECONDS);
    if (count > WRONG_CODES) throw tooMany(left);
    throw new AccessRefused('wrongCode');
  }
  if (who?.kind !== 'link') return {};
  const link = await linkOfToken(database, form, header(request, 'x-fiche-link'), now);
  if (!link) throw new AccessRefused('link');
  if (link.withdrawn) throw new AccessRefused('withdrawn');
  if (link.late) throw new AccessRefused('late');
  if (link.once && link.used && !sends) throw new AccessRefused('used');
  return { link };
}

/** A header holds ASCII only: letters beyond it are percent-encoded. */
function decoded(text: string): string {
  try {
    return decodeURIComponent(text);
  } catch {
    return text;
  }
}
