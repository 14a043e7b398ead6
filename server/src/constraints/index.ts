export { COMBINATION_TWICE, constraintProblem, heldName } from './constraints.ts';
