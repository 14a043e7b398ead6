export * from './contract.ts';
export type { DraftView, EntryAnswer, EntryBody, RunningForm } from './routes.ts';
export * as routes from './routes.ts';
export type { FormSummary, LedgerVerdict, LineView, RecordView, SessionView } from './shapes.ts';
