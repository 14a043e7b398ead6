import type { Seal } from './chain.ts';

export const RECEIPT_FORMAT = 'fiche-receipt/1';
export const LEDGER_FORMAT = 'fiche-ledger/1';

/** A seal that was given away, signed: whoever has it can later show that the ledger up to it was not rewritten. */
export interface Receipt {
  readonly format: typeof RECEIPT_FORMAT;
  /** When it was given, ISO 8601 in UTC. */
  readonly issued: string;
  readonly seal: Seal;
  /** The key of the office, Ed25519 (RFC 8032) as DER (RFC 8410), base64. */
  readonly publicKey: string;
  /** Of `receiptText`, Ed25519, base64. */
  readonly signature: string;
}

/** The text that a receipt signs (as UTF-8): its parts between unit separators; the hash of the seal stands for all of the seal. */
export const receiptText = ({ format, issued, seal, publicKey }: Omit<Receipt, 'signature'>): string =>
  [format, issued, publicKey, seal.hash].join('\u001f');

/** What an exported ledger holds of a line that is not for its reader: its hash, which seals add up. */
export interface HashedLine {
  readonly id: number;
  readonly transaction: string;
  readonly hash: string;
}
