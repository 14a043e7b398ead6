export { type AskedThing, askUses } from './useUses.ts';
export { AskedAct, UsedDialog, Uses, WhereUsed } from './WhereUsed.tsx';
