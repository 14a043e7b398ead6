export { type PrintedBlock, type PrintedCard, printedSections } from './card.ts';
export { type Orientation, orientationSchema, PAPERS, type Paper, POINTS_A_MM, paperOf, paperSchema } from './paper.ts';
