export { type Actor, asActor, SAID, setActor, writeOnce } from './asActor.ts';
export { ask } from './ask.ts';
export {
  APP_ROLE,
  connect,
  type Database,
  type Databases,
  disconnect,
  keptSecret,
  type RolePools,
  type Transaction,
} from './connection.ts';
export { migrate } from './migrate.ts';
export { isSigned, numberOfToken, numberToken, sign } from './signing.ts';
export { NobodyWaits, whileWanted } from './whileWanted.ts';
