export {
  type CabinetView,
  OfficeContext,
  useCabinetQuery,
  useOffice,
  useRefreshCabinet,
  useSession,
} from './definitions.ts';
export { keepToken, NoConnection, ServerProblem, send } from './http.ts';
export { sendFile } from './sendFile.ts';
export { cancelTask, isOver, useTask } from './tasks.ts';
