export * from './contract.ts';
export type { DraftView, EntryAnswer, EntryBody, RunningForm } from './routes.ts';
export * as routes from './routes.ts';
export type { FormSummary, LineView, RecordView, SessionView } from './shapes.ts';
