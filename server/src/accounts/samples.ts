/** The accounts of sample mode, shown on the sign-in page. They exist only where the sample cabinet was seeded. */
export const SAMPLE_ACCOUNTS = [
  { login: 'harbourmaster', about: 'builds the forms, runs the office' },
  { login: 'quayclerk', about: 'fills forms by day' },
  { login: 'nightclerk', about: 'fills forms by night' },
  { login: 'auditor', about: 'reads histories and the ledger' },
] as const;

export const SAMPLE_PASSWORD = 'gannet-sound';
