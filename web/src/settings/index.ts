export { currencies, locales, OfficeFields, officeOfBrowser } from './OfficeFields.tsx';
export { OperationPage } from './OperationPage.tsx';
export { SettingsPage } from './SettingsPage.tsx';
