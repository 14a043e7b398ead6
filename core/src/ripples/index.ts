export { rippleCircle } from './circles.ts';
export { eventTable, eventValues, type RippleEvent, readEvent, summaryOf } from './event.ts';
export { MESSAGE_PLACES, messagePaths } from './message.ts';
export { prepareRipple } from './prepare.ts';
export type { PreparedEffect, PreparedRipple } from './prepared.ts';
export { proposeValues, sourceMisfit } from './propose.ts';
export { eventLabel, eventWords, rippleWords, sourceWords, targetOf } from './words.ts';
