export { type Actor, asActor, SAID, setActor, writeOnce } from './asActor.ts';
export { ask } from './ask.ts';
export {
  APP_ROLE,
  connect,
  connectThread,
  type Databases,
  disconnect,
  keptSecret,
  poolsOf,
  type RolePools,
  type Standby,
} from './connection.ts';
export { migrate } from './migrate.ts';
export { observeQueries } from './observe.ts';
export type { Database, DirectConnection, Transaction } from './pool.ts';
export { isSigned, numberOfToken, numberToken, sign } from './signing.ts';
export { exportPoolAt, ownerReadPool, readFromStandby, type WalPosition, walPositionSql } from './standbyReads.ts';
export { NobodyWaits, whileWanted } from './whileWanted.ts';
