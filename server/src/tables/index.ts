export { createList, saveCombinations } from './combinations.ts';
export { heldName, rangeSql } from './columns.ts';
export { addField, changeField, copyFields, retireField, returnField } from './fields.ts';
export { tendIndexes } from './indexes.ts';
export { tableRoutes } from './routes.ts';
export { changeTable, createCabinet, createTable, lockTable, tableNow } from './store.ts';
export { structureWork } from './structure.ts';
export { tryHold } from './trial.ts';
