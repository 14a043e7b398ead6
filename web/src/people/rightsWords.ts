import { say } from '@fiche/core/languages';

/** The rights of a role as people read them. */
const RIGHT_WORDS: Readonly<Record<string, string>> = {
  see: say('see records'),
  add: 'add',
  change: 'change',
  archive: 'archive',
  export: 'export',
  import: 'import',
  history: say('read histories'),
  ledger: say('read the ledger'),
  build: say('build tables and forms'),
  people: say('manage people'),
  outbox: say('read the outbox'),
  erase: say('erase for good'),
};

/** Rights in a row: `see records, add, change`. */
export const rightsWords = (rights: readonly string[]): string =>
  rights.map((right) => RIGHT_WORDS[right] ?? right).join(', ');
