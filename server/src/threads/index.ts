export { inThread } from './inThread.ts';
