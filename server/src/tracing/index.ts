import { AsyncLocalStorage } from 'node:async_hooks';
import { randomBytes } from 'node:crypto';

/** The request that is being answered: named in the log, in the answer, and with the statements that it runs. */
export interface TracedRequest {
  /** As a proxy in front gave it, or made here: letters, digits, `-` and `_`. */
  readonly id: string;
  /** Its method and the address of its contract, without values: `GET /api/forms/{form}`. */
  readonly route: string;
}

const traced = new AsyncLocalStorage<TracedRequest>();

/** Following requests costs each save some tenths of a millisecond of processor time before Node.js 24: FICHE_TRACE=no leaves it. */
const traces = process.env.FICHE_TRACE !== 'no';

/** The request in whose course this is called; undefined in work that no request waits for. */
export const currentRequest = (): TracedRequest | undefined => traced.getStore();

export const withinRequest = <T>(request: TracedRequest, work: () => T): T =>
  traces ? traced.run(request, work) : work();

/** The id of a request that comes: the one that a trusted proxy gave it, else a new one. */
export const requestId = (given: unknown): string =>
  typeof given === 'string' && /^[\w-]{8,64}$/.test(given) ? given : randomBytes(6).toString('hex');

/** What PostgreSQL shows as the name of the program at work (`application_name`): at most 63 bytes. */
export function applicationName(): string {
  const request = currentRequest();
  return request ? `fiche ${request.id} ${request.route}`.slice(0, 63) : 'fiche';
}
