export { inThread, type ThreadAnswer } from './inThread.ts';
