export { ChartSettings } from './ChartSettings.tsx';
export { ChartView } from './ChartView.tsx';
