import { z } from 'zod';
import { NOTICE_KINDS } from '../messages/index.ts';
import { contract } from './contract.ts';
import { empty, labelSchema, loginSchema, nothing, passwordSchema } from './shapes.ts';

const emailSchema = z.union([
  z.literal(''),
  z.email('This is not an e-mail address: it looks like name@office.example.').max(200),
]);

/** A one-time link with which somebody sets a password. It is shown once: only its hash is kept. */
const linkShape = z.object({
  token: z.string(),
  login: z.string(),
  expires: z.string(),
  /** The address to which it goes by mail too; `''` where the account has none. */
  email: z.string(),
  /** Whether a mail server is set up: without one the message is only kept in the outbox. */
  mailed: z.boolean(),
});
export type PasswordLink = z.infer<typeof linkShape>;

const personShape = z.object({
  login: z.string(),
  displayName: z.string(),
  /** `''` for none. */
  email: z.string(),
  /** The id of their role in this cabinet. */
  role: z.string(),
  closed: z.boolean(),
  /** No password was set yet. */
  invited: z.boolean(),
  /** The moment until which a link that was made for them can be used; null without one. */
  linkUntil: z.string().nullable(),
  lastSeen: z.string().nullable(),
  secondFactor: z.boolean(),
  /** Whether the caller may change the account itself: they manage the people of all its cabinets. */
  mayManage: z.boolean(),
});
export type PersonView = z.infer<typeof personShape>;

const roleShape = z.object({
  id: z.string(),
  label: z.string(),
  rights: z.array(z.string()),
  /** Whether the caller may give it: it allows nothing that they may not do themselves. */
  mayGive: z.boolean(),
});

export const listPeople = contract({
  method: 'GET',
  path: '/api/cabinets/{cabinet}/accounts',
  summary:
    'The people of a cabinet, the roles that one may give them, and accounts of other cabinets that can be added',
  needs: 'people',
  query: empty,
  body: nothing,
  answer: z.object({
    people: z.array(personShape),
    roles: z.array(roleShape),
    others: z.array(z.object({ login: z.string(), displayName: z.string() })),
  }),
});

export const invitePerson = contract({
  method: 'POST',
  path: '/api/cabinets/{cabinet}/accounts',
  summary: 'Make an account with a role in the cabinet; answers with the one-time link that sets its first password',
  needs: 'people',
  query: empty,
  body: z.strictObject({
    login: loginSchema,
    displayName: labelSchema,
    role: z.string().max(60),
    email: emailSchema.default(''),
  }),
  answer: linkShape,
});

export const addPerson = contract({
  method: 'PUT',
  path: '/api/cabinets/{cabinet}/accounts/{login}',
  summary: 'Give an account of another cabinet a role in this one',
  needs: 'people',
  query: empty,
  body: z.strictObject({ role: z.string().max(60) }),
  answer: empty,
});

export const changePerson = contract({
  method: 'PATCH',
  path: '/api/cabinets/{cabinet}/accounts/{login}',
  summary: 'Change somebody’s role, name or e-mail; close the account or open it again',
  needs: 'people',
  query: empty,
  body: z
    .strictObject({ role: z.string().max(60), displayName: labelSchema, email: emailSchema, closed: z.boolean() })
    .partial(),
  answer: empty,
});

export const removePerson = contract({
  method: 'DELETE',
  path: '/api/cabinets/{cabinet}/accounts/{login}',
  summary: 'Take somebody out of the cabinet; the account stays',
  needs: 'people',
  query: empty,
  body: nothing,
  answer: empty,
});

export const makePasswordLink = contract({
  method: 'POST',
  path: '/api/cabinets/{cabinet}/accounts/{login}/link',
  summary: 'Make a one-time link that sets a new password; an earlier one is worth nothing from then on',
  needs: 'people',
  query: empty,
  body: empty,
  answer: linkShape,
});

export const readPasswordLink = contract({
  method: 'POST',
  path: '/api/password-link',
  summary: 'Whose a one-time link is, before its password is set',
  needs: 'nobody',
  query: empty,
  body: z.strictObject({ token: z.string().min(1).max(100) }),
  answer: z.object({ login: z.string(), displayName: z.string(), invited: z.boolean() }),
});

export const setPassword = contract({
  method: 'POST',
  path: '/api/password',
  summary: 'Set a password by a one-time link; every session of the account ends',
  needs: 'nobody',
  query: empty,
  body: z.strictObject({ token: z.string().min(1).max(100), password: passwordSchema }),
  answer: empty,
});

const ownSessionShape = z.object({
  id: z.number(),
  /** In words: “Firefox on Windows”; `''` where the browser did not say. */
  device: z.string(),
  address: z.string(),
  started: z.string(),
  /** The last time that it was used, to five minutes. */
  seen: z.string(),
  current: z.boolean(),
});

export const ownAccount = contract({
  method: 'GET',
  path: '/api/account',
  summary: 'One’s own account, and where one is signed in',
  needs: 'account',
  query: empty,
  body: nothing,
  answer: z.object({
    login: z.string(),
    displayName: z.string(),
    email: z.string(),
    /** The moment since when there is one, and how many recovery codes are left. */
    secondFactor: z.object({ since: z.string().nullable(), recoveryCodes: z.number() }),
    /** Which notices come by mail too. */
    mailed: z.array(z.enum(NOTICE_KINDS)),
    sessions: z.array(ownSessionShape),
  }),
});
export type OwnAccount = z.infer<typeof ownAccount.answer>;

export const changeOwnAccount = contract({
  method: 'PATCH',
  path: '/api/account',
  summary: 'Change one’s own display name or e-mail, and which notices come by mail',
  needs: 'account',
  query: empty,
  body: z
    .strictObject({
      displayName: labelSchema,
      email: emailSchema,
      mailed: z.array(z.enum(NOTICE_KINDS)).max(NOTICE_KINDS.length),
    })
    .partial(),
  answer: empty,
});

export const changeOwnPassword = contract({
  method: 'PUT',
  path: '/api/account/password',
  summary: 'Change one’s own password; every other session ends',
  needs: 'account',
  query: empty,
  body: z.strictObject({ present: passwordSchema, password: passwordSchema }),
  answer: empty,
});

export const beginSecondFactor = contract({
  method: 'POST',
  path: '/api/account/second-factor',
  summary: 'Begin a second factor: the secret for an application that makes codes by time (RFC 6238)',
  needs: 'account',
  query: empty,
  body: z.strictObject({ password: passwordSchema }),
  answer: z.object({ secret: z.string(), uri: z.string() }),
});
export type SecondFactorSecret = z.infer<typeof beginSecondFactor.answer>;

export const confirmSecondFactor = contract({
  method: 'PUT',
  path: '/api/account/second-factor',
  summary: 'Confirm a second factor by its first code; answers with recovery codes, each good once',
  needs: 'account',
  query: empty,
  body: z.strictObject({ code: z.string().max(40) }),
  answer: z.object({ recoveryCodes: z.array(z.string()) }),
});

export const removeSecondFactor = contract({
  method: 'DELETE',
  path: '/api/account/second-factor',
  summary: 'Remove one’s own second factor',
  needs: 'account',
  query: empty,
  body: z.strictObject({ password: passwordSchema }),
  answer: empty,
});

export const removeTheirSecondFactor = contract({
  method: 'DELETE',
  path: '/api/cabinets/{cabinet}/accounts/{login}/second-factor',
  summary: 'Remove the second factor of somebody who has lost it',
  needs: 'people',
  query: empty,
  body: nothing,
  answer: empty,
});

export const endOwnSession = contract({
  method: 'DELETE',
  path: '/api/account/sessions/{session}',
  summary: 'End one of one’s own sessions',
  needs: 'account',
  query: empty,
  body: nothing,
  answer: empty,
});

export const endOtherSessions = contract({
  method: 'DELETE',
  path: '/api/account/sessions',
  summary: 'End all of one’s own sessions but the one that asks',
  needs: 'account',
  query: empty,
  body: nothing,
  answer: empty,
});
