import type { MailSettings } from '../services.ts';
import type { Worker } from '../tasks/index.ts';
import { checkChange } from './check.ts';
import { writeChange } from './write.ts';

export { forgetPlans } from './plans.ts';
export { changeRoutes } from './routes.ts';

/** The work of changing many records, by kind. */
export const changeWork = (mail: MailSettings): Readonly<Record<string, Worker>> => ({
  checkChange,
  writeChange: writeChange(mail),
});
