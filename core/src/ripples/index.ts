export { rippleCircle } from './circles.ts';
export { eventTable, eventValues, type RippleEvent, readEvent, summaryOf } from './event.ts';
export {
  eventLabel,
  MESSAGE_PLACES,
  type PreparedEffect,
  type PreparedRipple,
  prepareRipple,
  proposeValues,
  sourceMisfit,
} from './prepare.ts';
export { EVENT_WORDS, effectWords, eventWords, rippleWords, sourceWords, targetOf } from './words.ts';
