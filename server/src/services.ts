import type { Databases } from './database/index.ts';
import type { DefinitionCache } from './definitions/index.ts';
import type { OfficeLanguages } from './languages/index.ts';
import type { Scanner } from './scanning/index.ts';
import type { Tasks } from './tasks/index.ts';

export interface MailServer {
  /** `smtp://` or `smtps://`, with name and password where the server asks for them. */
  readonly url: string;
  /** The address in From. */
  readonly from: string;
}

/** How messages leave the office. */
export interface MailSettings {
  /** The mail server; null where none is set up, and messages are only kept in the outbox. */
  readonly server: MailServer | null;
  /** The address under which people open the application, without a slash at its end: links in messages begin with it. */
  readonly publicUrl: string;
}

/** How the server is watched, and what it says of itself. */
export interface Monitoring {
  /** Set when the server is about to stop: it takes no new requests, and says so to what stands before it. */
  draining: boolean;
  /** The token for monitoring from another machine; null where only this one may. */
  readonly metricsToken: string | null;
  /** The milliseconds after which a statement is told in the log; null for none. */
  readonly slowAfter: number | null;
}

/** What every route works with. */
export interface Services {
  readonly databases: Databases;
  readonly definitions: DefinitionCache;
  readonly tasks: Tasks;
  /** Sample mode: the sign-in page names the sample accounts. */
  readonly sample: boolean;
  /** Hold answers to their contracts; in tests. */
  readonly checkAnswers: boolean;
  /** The least seconds from opening a public page to sending it; null where answers are not held as spam, in tests. */
  readonly leastSeconds: number | null;
  /** The folder of the database, where it is on this machine: its free space is watched. */
  readonly dataFolder: string | null;
  /** The languages of the office’s screens. */
  readonly languages: OfficeLanguages;
  readonly mail: MailSettings;
  readonly monitoring: Monitoring;
  /** Looks through the files that strangers send. */
  readonly scanner: Scanner;
  /** Cookies only over HTTPS. */
  readonly secureCookies: boolean;
}
