export { CalendarView } from './CalendarView.tsx';
export { ComingPeriods } from './ComingPeriods.tsx';
export { LanesView } from './LanesView.tsx';
export { PeriodSettingsForm } from './PeriodSettingsForm.tsx';
