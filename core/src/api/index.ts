export * from './contract.ts';
export { type CalendarDefinition, type CalendarView, calendarSchema } from './onCalendars.ts';
export type { ChangeView } from './onChanges.ts';
export type { EntryAnswer, EntryBody, FileAnswer, PageProof, WhyView } from './onEntries.ts';
export type { ExportOrder, ExportState } from './onExports.ts';
export type { HeldAnswer } from './onHeld.ts';
export { type HomeAnswer, type HomeViews, homeViewsSchema, MOST_ON_HOME } from './onHome.ts';
export { type BadRowsView, IMPORT_MOST_BYTES, type ImportView } from './onImports.ts';
export type { OfficeLanguage } from './onLanguages.ts';
export type { LedgerOverview } from './onLedger.ts';
export type { ComparedRecord, DuplicatesFound, MergeAnswer } from './onMerging.ts';
export {
  type Inbox,
  MESSAGE_STATES,
  type MessageView,
  type NoticeView,
  type Outbox,
  type WatchView,
} from './onMessages.ts';
export type { BackupView, OperationAnswer } from './onOperation.ts';
export type { AnswerView, OpenPage, PersonalLinkView, UnavailablePage } from './onPages.ts';
export type { PastRecord, PutBackAnswer } from './onPast.ts';
export type { OwnAccount, PasswordLink, PersonView, SecondFactorSecret } from './onPeople.ts';
export { type FreeLanes, MOST_FREE, MOST_PERIODS, type PeriodsAnswer } from './onPeriods.ts';
export type { LabelLayoutView, LabelPreview } from './onPrint.ts';
export type { EverythingHeld, RecordPlace } from './onRecords.ts';
export type { DraftReplay } from './onReplay.ts';
export type { MissedSaves, TriedRipple } from './onRipples.ts';
export type { ListedRole, RoleReplay } from './onRoles.ts';
export { type Backfill, backfillSchema, type FieldLevel, type Hold, holdSchema, type MadeLines } from './onTables.ts';
export type { TokenView } from './onTokens.ts';
export type { UsesView } from './onUses.ts';
export type { ListedGroup, ListedPage, ListedRecord, ViewView } from './onViews.ts';
export type { DraftView, VersionsView } from './routes.ts';
export * as routes from './routes.ts';
export type {
  FindingView,
  LedgerVerdict,
  LineView,
  ListedForm,
  OverviewView,
  RecordView,
  RunningForm,
  SessionView,
  TaskView,
} from './shapes.ts';
