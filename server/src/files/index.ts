export { countBytes, requireDiskSpace } from './quota.ts';
export { fileRoutes } from './routes.ts';
export {
  claimFiles,
  forgetUnclaimed,
  namedFiles,
  receiveFile,
  type StoredFile,
  strangeFiles,
} from './store.ts';
