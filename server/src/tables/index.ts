export { createList, saveCombinations } from './combinations.ts';
export { addField, addFields, changeField, copyFields, retireField, returnField } from './fields.ts';
export { holdConstraint } from './hold.ts';
export { holdAllCombinations, holdCombinations } from './holdCombinations.ts';
export { prepareIndexes, tendIndexes } from './indexes.ts';
export { tableRoutes } from './routes.ts';
export { changeTable, createCabinet, createTable, lockTable, tableNow } from './store.ts';
export { tryHold } from './trial.ts';
export { structureWork } from './work.ts';
