/** A table of definitions under capture, as `ledger.watch` was told of it in the migrations. */
interface CapturedDefinition {
  readonly keys: readonly string[];
  /** Columns that lines do not tell: keys, counters, the order on the screen, a draft before it is published. */
  readonly unwritten: readonly string[];
  /** Secrets, of which lines tell the SHA-256. */
  readonly hashed?: readonly string[];
  /** A row counts once this column is not null. */
  readonly countsWith?: string;
}

/** Every table of the schema `fiche` whose rows the ledger accounts for. Tables of the schema `data` all are. */
export const CAPTURED: Readonly<Record<string, CapturedDefinition>> = {
  office: { keys: ['one'], unwritten: ['one'] },
  cabinet: { keys: ['id'], unwritten: ['id', 'revision'] },
  table: { keys: ['id'], unwritten: ['id', 'position', 'revision'] },
  field: { keys: ['table_id', 'id'], unwritten: ['table_id', 'id', 'position', 'pending'] },
  form: { keys: ['id'], unwritten: ['id', 'position', 'draft', 'draft_revision'] },
  form_version: { keys: ['form_id', 'number'], unwritten: ['form_id', 'number'] },
  view: { keys: ['id'], unwritten: ['id', 'revision'] },
  role: { keys: ['cabinet', 'id'], unwritten: ['cabinet', 'id', 'revision'] },
  seen_as: { keys: ['id'], unwritten: ['id', 'session'] },
  account: { keys: ['login'], unwritten: ['login'], hashed: ['password_hash'] },
  password_link: { keys: ['login'], unwritten: ['login'], hashed: ['token_hash'] },
  token: { keys: ['id'], unwritten: ['id', 'made_by', 'made_at', 'used_at'], hashed: ['token_hash'] },
  second_factor: { keys: ['login'], unwritten: ['login', 'last_step'], hashed: ['secret'] },
  membership: { keys: ['login', 'cabinet'], unwritten: ['login', 'cabinet'] },
  personal_link: { keys: ['id'], unwritten: ['id', 'mailed_at'] },
  import: { keys: ['id'], unwritten: ['id', 'plan', 'at', 'account', 'state'] },
  change: { keys: ['id'], unwritten: ['id', 'cabinet', 'transaction'] },
  label_layout: { keys: ['id'], unwritten: ['id', 'revision'] },
  calendar_address: { keys: ['id'], unwritten: ['id', 'made_at'], hashed: ['token_hash'] },
  origin: { keys: ['table_id', 'record'], unwritten: ['table_id', 'record'] },
  receipt_mail: { keys: ['cabinet'], unwritten: ['cabinet', 'last_at'] },
  file: { keys: ['id'], unwritten: ['id', 'content', 'sent_at', 'claimed_at'], countsWith: 'claimed_at' },
};

/** Every other table of the schema `fiche`, and why the ledger does not account for it. */
export const EXEMPT: Readonly<Record<string, string>> = {
  session: 'who is signed in: ends by itself',
  idempotency: 'keys of saves, so that one sent twice is written once',
  first_key: 'one-time keys for the first administrator, by their hash; the account that they make is captured',
  signing: 'what tokens are signed with, made once',
  held_answer: 'answers that wait for a person to release or discard them; what is released is captured as a record',
  answer: 'which records an answer of a public page made, and how its sender came; the records are captured',
  consent_text: 'the texts that people agreed to on public pages, each as it was shown',
  recovery_code: 'codes for a lost second factor, by their hash; that they were made is the second factor’s line',
  attempt: 'counters of the limits on tries',
  task: 'progress of work in the background; what it writes is captured where it writes',
  import_part: 'files on their way in, kept a week; the records made of them are captured',
  import_correction:
    'rows of a file as they were corrected before the import, kept a week; the records made of them are captured',
  import_bad_row: 'rows of a file that were not imported, kept a week',
  change_plan: 'changes of many records before they are written, kept a week; what is written is captured',
  content: 'bytes of files, held by verification against the SHA-256 that the captured file names',
  content_part: 'bytes of files, held by verification against the SHA-256 that the captured file names',
  watch: 'who watches which record: a person’s own choice, and nothing of the record',
  view_watch: 'who watches which view: a person’s own choice',
  form_watch: 'who watches the answers to which form: a person’s own choice',
  views_notified: 'how far the ledger has been read for watched views',
  notice: 'what people were told of, removed after a while; what happened is in the lines of the record itself',
  notice_settings: 'which notices somebody wants by mail: a person’s own choice',
  message: 'the outbox, removed after a year; what a message speaks of is captured where it was written',
  past_snapshot: 'records as they stood once, made from the ledger for whoever looks, dropped after an hour',
  checkpoint_look:
    'when a table was last looked at for whether it needs another checkpoint; verification adds the lines of checkpoints up again',
  rippled: 'what ripples wrote for which save, so that one leads to the other; both are captured as records',
  merged: 'which records were merged into which, so that one leads to the other; both are captured as records',
  backup: 'which backups were taken, told by the command that takes them; the database itself cannot vouch for them',
  export: 'what somebody has asked to export and how far it is, kept an hour; it changes nothing',
  home: 'which views somebody has on their own Home: a person’s own choice',
  line_order: 'the order in which lines of a subform are shown',
};
