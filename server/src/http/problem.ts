import type { Problem } from '@fiche/core/fields';
import { say } from '@fiche/core/languages';

const TITLES: Record<number, string> = {
  400: 'The request cannot be read',
  401: 'Sign in first',
  403: 'Not allowed',
  404: 'Not found',
  408: 'Too slow',
  409: 'Changed meanwhile',
  413: 'Too large',
  415: 'Not JSON',
  422: 'Not accepted',
  429: 'Too many tries',
  500: 'Something failed',
  503: 'Busy',
  507: 'Disk full',
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
  title: TITLES[status] ?? 'Problem',
  status,
  detail,
  errors,
  ...more,
});
