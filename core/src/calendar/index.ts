export { isPeriodEnd, periodProblems } from './check.ts';
export {
  type LaneParent,
  laneParents,
  overlappedBy,
  type PlacedLane,
  type PlacedPeriod,
  placeInLane,
  placeInLanes,
  withMoved,
} from './lanes.ts';
export { DAY, dayAt, minutesOf, momentAt } from './minutes.ts';
export { daysOf, mondayOf, monthAfter, monthOf, placeInWeek, type WeekSegment, weeksOfMonth } from './month.ts';
export {
  drawnDates,
  inSteps,
  isMoved,
  type MovedPart,
  movedDates,
  movedPeriod,
  newDate,
  type PeriodMove,
  stepOf,
} from './move.ts';
export { type Interval, intervalOf, overlap, overlapping, type Period, periodSchema } from './period.ts';
export {
  CALENDAR_SPANS,
  type CalendarSettings,
  type CalendarSpan,
  calendarSettingsSchema,
  LANE_SPANS,
  type LaneSettings,
  type LaneSpan,
  laneSettingsSchema,
  type PeriodSettings,
} from './settings.ts';
export {
  laneWindow,
  positionIn,
  type TimeTick,
  timeTicks,
  windowAround,
  windowBeside,
  windowZoomed,
} from './timeScale.ts';
