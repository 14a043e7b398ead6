export { type Decided, decide, decideMany, peopleOfEntry } from './decide.ts';
