export { formatBytes } from './bytes.ts';
export { civilNow, civilOf, instantOf } from './civil.ts';
export { partsOfDay } from './dayParts.ts';
export { dateDay, dayAfter, dayDate } from './days.ts';
export { currencyIn, currencyPlaces, formatAmount, withoutCurrency } from './money.ts';
export {
  currentOffice,
  DEFAULT_OFFICE,
  type Office,
  overrideOffice,
  setOffice,
} from './office.ts';
export { formatCount, formatLimit, formatNumber, PLAIN, type Writing, writingOf } from './writing.ts';
