export { currencySchema, localeSchema, officeSchema } from './officeSettings.ts';
