export { Cancelled, type NewTask, Tasks, type Work, type Worker } from './runner.ts';
