export { announce } from './announce.ts';
