import { z } from 'zod';
import { contract } from './contract.ts';
import { empty, idSchema, nothing } from './shapes.ts';

const tokenShape = z.object({
  id: z.number(),
  /** Stamped into records as `token:` and this name. */
  name: z.string(),
  role: z.string(),
  /** The only tables that it may be used for; null for all of the cabinet. */
  tables: z.array(z.string()).nullable(),
  madeBy: z.string(),
  madeAt: z.string(),
  expires: z.string().nullable(),
  revoked: z.string().nullable(),
  /** The last time that it was used, to a minute; null for never. */
  used: z.string().nullable(),
});
export type TokenView = z.infer<typeof tokenShape>;

export const listTokens = contract({
  method: 'GET',
  path: '/api/cabinets/{cabinet}/tokens',
  summary: 'The tokens of programs that work in the cabinet',
  needs: 'people',
  query: empty,
  body: nothing,
  answer: z.object({ tokens: z.array(tokenShape) }),
});

export const makeToken = contract({
  method: 'POST',
  path: '/api/cabinets/{cabinet}/tokens',
  summary: 'Make a token for a program; it is answered this once',
  needs: 'people',
  query: empty,
  body: z.strictObject({
    name: z
      .string()
      .trim()
      .toLowerCase()
      .regex(
        /^[a-z][a-z0-9-]{1,39}$/,
        'A name has 2 to 40 letters, digits or hyphens, and begins with a letter, such as gauge-reader.',
      ),
    role: z.string().max(60),
    tables: z.array(idSchema).min(1, 'Choose at least one table, or all.').max(200).nullable().default(null),
    /** The last day on which it can be used, in the office’s time zone; null for no end. */
    until: z.iso.date('Give the last day, such as 2027-06-30.').nullable().default(null),
  }),
  answer: z.object({ id: z.number(), token: z.string() }),
});

export const revokeToken = contract({
  method: 'DELETE',
  path: '/api/cabinets/{cabinet}/tokens/{token}',
  summary: 'Revoke a token: from the next request on it is worth nothing',
  needs: 'people',
  query: empty,
  body: nothing,
  answer: empty,
});
