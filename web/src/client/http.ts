import type { ProblemDocument } from '@fiche/core/api';
import { say } from '@fiche/core/languages';

/** What the server refused, with the places it named. */
export class ServerProblem extends Error {
  constructor(readonly document: ProblemDocument) {
    super(document.detail);
  }
}

/** The server could not be reached. */
export class NoConnection extends Error {}

/** Statuses of a server, or of what stands before it, that is just being started or busy. */
const PASSING = [502, 503, 504];

/** Whether what failed may well succeed a moment later, as while a server is restarted. */
export const isPassing = (error: unknown): boolean =>
  error instanceof NoConnection || (error instanceof ServerProblem && PASSING.includes(error.document.status));

/** The tokens of the versions of forms that were opened here, by the form's address and the version. */
const begun = new Map<string, string>();

/** Keeps the token that an opened form came with. */
function keepBegun(url: string, answer: unknown): void {
  const { version, begun: token } = (answer ?? {}) as { version?: unknown; begun?: unknown };
  if (typeof version === 'number' && typeof token === 'string') begun.set(`${url.split('?')[0]} ${version}`, token);
}

/** The token of the version on which an entry is being filled, for the address that it is sent to. */
function begunFor(url: string, body: unknown): string | undefined {
  const [address = '', query = ''] = url.split('?');
  const version =
    (body as { formVersion?: unknown } | undefined)?.formVersion ?? new URLSearchParams(query).get('formVersion');
  return begun.get(`${address.slice(0, address.lastIndexOf('/'))} ${version}`);
}

/** The session's token, shown with every write. */
let csrf = '';
/** The token to show with a write. */
export const tokenNow = (): string => csrf;
export const keepToken = (token: string): void => {
  csrf = token;
};

/** How the visitor of a public page came in: a code, a personal link, a receipt. */
let access: Readonly<Record<string, string>> = {};
export const keepPageAccess = (headers: Readonly<Record<string, string>>): void => {
  access = headers;
};

/** The language in which a public page is read, as `Accept-Language` asks for it; what the browser says where it is empty. */
let language = '';
export const keepPageLanguage = (next: string): void => {
  language = next;
};

export const pageLanguage = (): string => language;

/** Whether the visitor of a public page came by its address alone. */
export const isByAddress = (): boolean => Object.keys(access).length === 0;

/** The headers that say on which version an entry was begun and, on a public page, how its visitor came in. */
export function begunHeader(url: string, body?: unknown): Record<string, string> {
  const token = begunFor(url, body);
  return {
    ...access,
    ...(language === '' ? {} : { 'accept-language': language }),
    ...(token === undefined ? {} : { 'x-fiche-begun': token }),
  };
}

/** Sends one request and gives its answer; throws ServerProblem or NoConnection. `signal` takes it back. */
export async function send<A>(
  method: string,
  url: string,
  body?: unknown,
  headers: Record<string, string> = {},
  signal?: AbortSignal,
): Promise<A> {
  let reply: Response;
  try {
    reply = await fetch(url, {
      method,
      signal,
      headers: {
        ...(body === undefined ? {} : { 'content-type': 'application/json' }),
        ...(method === 'GET' || csrf === '' ? {} : { 'x-fiche-csrf': csrf }),
        ...begunHeader(url, body),
        ...headers,
      },
      ...(body === undefined ? {} : { body: JSON.stringify(body) }),
    });
  } catch {
    throw new NoConnection(say('The server cannot be reached. What you typed is still here; try again.'));
  }
  const answer: unknown = await reply.json().catch(() => undefined);
  if (method === 'GET' && reply.ok) keepBegun(url, answer);
  if (reply.ok) return answer as A;
  throw new ServerProblem(
    (answer as ProblemDocument | undefined) ?? {
      type: 'about:blank',
      title: say('Problem'),
      status: reply.status,
      detail: say('The server answered {status}. Try again.', { status: reply.status }),
      errors: [],
    },
  );
}
