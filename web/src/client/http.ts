import type { ProblemDocument } from '@fiche/core/api';

/** What the server refused, with the places it named. */
export class ServerProblem extends Error {
  constructor(readonly document: ProblemDocument) {
    super(document.detail);
  }
}

/** The server could not be reached. */
export class NoConnection extends Error {}

let csrf = '';
/** The session's token, shown with every write. */
/** The token to show with a write. */
export const tokenNow = (): string => csrf;
export const keepToken = (token: string): void => {
  csrf = token;
};

/** Sends one request and gives its answer; throws ServerProblem or NoConnection. */
export async function send<A>(
  method: string,
  url: string,
  body?: unknown,
  headers: Record<string, string> = {},
): Promise<A> {
  let reply: Response;
  try {
    reply = await fetch(url, {
      method,
      headers: {
        ...(body === undefined ? {} : { 'content-type': 'application/json' }),
        ...(method === 'GET' || csrf === '' ? {} : { 'x-fiche-csrf': csrf }),
        ...headers,
      },
      ...(body === undefined ? {} : { body: JSON.stringify(body) }),
    });
  } catch {
    throw new NoConnection('The server cannot be reached. What you typed is still here; try again.');
  }
  const answer: unknown = await reply.json().catch(() => undefined);
  if (reply.ok) return answer as A;
  throw new ServerProblem(
    (answer as ProblemDocument | undefined) ?? {
      type: 'about:blank',
      title: 'Problem',
      status: reply.status,
      detail: `The server answered ${reply.status}. Try again.`,
      errors: [],
    },
  );
}
