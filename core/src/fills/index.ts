export { type Fill, type FillPair, fillSchema, misfit, type Origin, proposePairs } from './fill.ts';
