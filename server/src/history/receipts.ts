import { createPrivateKey, createPublicKey, generateKeyPairSync, sign } from 'node:crypto';
import { RECEIPT_FORMAT, type Receipt, receiptText } from '@fiche/core/history';
import { say } from '@fiche/core/languages';
import { type Database, keptSecret } from '../database/index.ts';
import { Refusal } from '../http/index.ts';
import { readSeals } from './verifySeals.ts';

const newKey = (): string =>
  generateKeyPairSync('ed25519').privateKey.export({ type: 'pkcs8', format: 'pem' }).toString();

/** A receipt for the newest seal of the ledger, signed with the key of this office, which is made at first. As the owner. Throws 409 before the first seal. */
export async function newestReceipt(owner: Database, now = new Date()): Promise<Receipt> {
  const seal = (await readSeals(owner)).at(-1);
  if (!seal)
    throw new Refusal(
      409,
      say('Nothing is sealed yet. The first seal is made within five minutes of the first change.'),
    );
  const key = createPrivateKey(await keptSecret(owner, 'receipts', newKey));
  const publicKey = createPublicKey(key).export({ type: 'spki', format: 'der' }).toString('base64');
  const given = { format: RECEIPT_FORMAT, issued: now.toISOString(), seal, publicKey } as const;
  return { ...given, signature: sign(null, Buffer.from(receiptText(given)), key).toString('base64') };
}
