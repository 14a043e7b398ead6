import type { Problem } from '@fiche/core/fields';
import { say, sayLater } from '@fiche/core/languages';

const TITLES: Readonly<Record<number, string>> = {
  400: sayLater('The request cannot be read'),
  401: sayLater('Sign in first'),
  403: sayLater('Not allowed'),
  404: sayLater('Not found'),
  408: sayLater('Too slow'),
  409: sayLater('Changed meanwhile'),
  413: sayLater('Too large'),
  415: sayLater('Not JSON'),
  422: sayLater('Not accepted'),
  429: sayLater('Too many tries'),
  500: sayLater('Something failed'),
  503: sayLater('Busy'),
  507: sayLater('Disk full'),
};

/** A refusal with its HTTP status, sent as an RFC 9457 problem document. */
export class Refusal extends Error {
  constructor(
    readonly status: number,
    message: string,
    readonly errors: readonly Problem[] = [],
    readonly more: Readonly<Record<string, unknown>> = {},
  ) {
    super(message);
  }
}

export const notFound = (what: string): Refusal =>
  new Refusal(404, say('{what} is not there, or not for you to see.', { what }));

/** Several problems with what was sent, each at its place. */
export const unacceptable = (errors: readonly Problem[]): Refusal =>
  new Refusal(422, errors[0]?.message ?? say('This cannot be accepted.'), errors);

export const problemDocument = (status: number, detail: string, errors: readonly Problem[], more: object = {}) => ({
  type: 'about:blank',
  title: say(TITLES[status] ?? sayLater('Problem')),
  status,
  detail,
  errors,
  ...more,
});
