export { useCabinetQuery, useRefreshCabinet, useSession } from './definitions.ts';
export { listenAt } from './events.ts';
export {
  isByAddress,
  isPassing,
  keepPageAccess,
  keepPageLanguage,
  keepToken,
  NoConnection,
  pageLanguage,
  ServerProblem,
  send,
} from './http.ts';
export { type CabinetView, OfficeContext, useOffice } from './office.ts';
export { COUNTED_MOST, countWords, useOverview } from './overview.ts';
export { blankProblems, focusFirst, NO_PROBLEMS, type PlacedProblems, placedProblems } from './placedProblems.ts';
export { seeCabinetAs, stopSeeingAs } from './seeAs.ts';
export { sendFile } from './sendFile.ts';
export { cancelTask, isOver, useTask } from './tasks.ts';
export { useTableForm } from './useTableForm.ts';
