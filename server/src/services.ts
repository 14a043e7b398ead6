import type { Databases } from './database/index.ts';
import type { DefinitionCache } from './definitions/index.ts';
import type { Tasks } from './tasks/index.ts';

/** What every route works with. */
export interface Services {
  readonly databases: Databases;
  readonly definitions: DefinitionCache;
  readonly tasks: Tasks;
  /** Sample mode: the sign-in page names the sample accounts. */
  readonly sample: boolean;
  /** Hold answers to their contracts; in tests. */
  readonly checkAnswers: boolean;
  /** Cookies only over HTTPS. */
  readonly secureCookies: boolean;
}
