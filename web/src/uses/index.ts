export { type AskedThing, askUses } from './useUses.ts';
export { AskedAct, UsedDialog, WhereUsed } from './WhereUsed.tsx';
