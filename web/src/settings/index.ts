export { currencies, locales, OfficeFields, officeOfBrowser } from './OfficeFields.tsx';
export { SettingsPage } from './SettingsPage.tsx';
