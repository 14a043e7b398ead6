/** The rights of a role as people read them. */
const RIGHT_WORDS: Readonly<Record<string, string>> = {
  see: 'see records',
  add: 'add',
  change: 'change',
  archive: 'archive',
  export: 'export',
  import: 'import',
  history: 'read histories',
  ledger: 'read the ledger',
  build: 'build tables and forms',
  people: 'manage people',
  outbox: 'read the outbox',
  erase: 'erase for good',
};

/** Rights in a row: `see records, add, change`. */
export const rightsWords = (rights: readonly string[]): string =>
  rights.map((right) => RIGHT_WORDS[right] ?? right).join(', ');
