export { constraintProblem, heldName } from './constraints.ts';
