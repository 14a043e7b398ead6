export { arrange, type Edge, type EdgeKind, type Wiring } from './wiring.ts';
