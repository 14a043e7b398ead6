export { answerJobs, type ThreadAnswer, WrongJob } from './answerJobs.ts';
