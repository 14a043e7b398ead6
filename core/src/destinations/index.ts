export {
  type Copy,
  type Destination,
  type Destinations,
  DOES,
  type Does,
  destinationIdSchema,
  destinationsSchema,
  fieldOfDestination,
  homeOf,
  OWN,
  partsOf,
  type RecordLink,
  SEVERAL,
  type Several,
  tableOfPart,
  type Writing,
} from './destination.ts';
export { fits, fittingFields } from './fits.ts';
export { writingOrder } from './order.ts';
export { withDestination, withoutDestination } from './propose.ts';
export { reasonsOfPart } from './rulesOfForm.ts';
export { type PartValues, valuesByPart } from './values.ts';
export { fittingLinks, tablesOfForm } from './wholeTable.ts';
export { destinationWords, doesWords, partLabel } from './words.ts';
