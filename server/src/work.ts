import { changeWork } from './changes/index.ts';
import type { Databases } from './database/index.ts';
import { DefinitionCache } from './definitions/index.ts';
import { historyWork } from './history/index.ts';
import { importWork } from './imports/index.ts';
import { ENGLISH_ONLY } from './languages/index.ts';
import { notifyTaskEnded } from './messages/index.ts';
import { standInScanner } from './scanning/index.ts';
import type { Services } from './services.ts';
import { structureWork } from './tables/index.ts';
import { Tasks } from './tasks/index.ts';

export type ServicesOptions = Partial<
  Pick<
    Services,
    | 'sample'
    | 'checkAnswers'
    | 'languages'
    | 'secureCookies'
    | 'leastSeconds'
    | 'dataFolder'
    | 'mail'
    | 'scanner'
    | 'monitoring'
  >
>;

/** What every route works with, over two connected roles: the definitions it remembers and the work it can take up. */
export function createServices(databases: Databases, options: ServicesOptions = {}): Services {
  const mail = options.mail ?? { server: null, publicUrl: 'http://127.0.0.1:4600' };
  return {
    databases,
    definitions: new DefinitionCache(databases.app),
    tasks: new Tasks(
      databases.work,
      { ...structureWork, ...importWork(mail), ...changeWork(mail), ...historyWork(databases) },
      (task) => notifyTaskEnded(databases.work.owner, task),
    ),
    sample: false,
    checkAnswers: false,
    leastSeconds: null,
    dataFolder: null,
    languages: ENGLISH_ONLY,
    scanner: standInScanner,
    secureCookies: false,
    monitoring: { draining: false, metricsToken: null, slowAfter: null },
    ...options,
    mail,
  };
}
