import { z } from 'zod';
import { roleDefinitionSchema } from '../rights/index.ts';
import { contract } from './contract.ts';
import { empty, labelSchema, nothing, roleShape } from './shapes.ts';

const listedRole = z.object({
  role: roleShape,
  /** How many people have it, and how many tokens that are in use. */
  people: z.number(),
  tokens: z.number(),
  /** Whether the caller may change it: it allows nothing that they may not do themselves. */
  mayChange: z.boolean(),
  /** What is worth a look: forms that it fills without seeing what they need. */
  findings: z.array(z.string()),
});
export type ListedRole = z.infer<typeof listedRole>;

export const listRoles = contract({
  method: 'GET',
  path: '/api/cabinets/{cabinet}/roles',
  summary: 'The roles of a cabinet, with what each allows',
  needs: 'people',
  query: empty,
  body: nothing,
  answer: z.object({ roles: z.array(listedRole) }),
});

export const createRole = contract({
  method: 'POST',
  path: '/api/cabinets/{cabinet}/roles',
  summary: 'Make a role as a copy of another one',
  needs: 'people',
  query: empty,
  body: z.strictObject({ label: labelSchema, from: z.string().max(60) }),
  answer: roleShape,
});

export const changeRole = contract({
  method: 'PUT',
  path: '/api/cabinets/{cabinet}/roles/{role}',
  summary: 'Say what a role allows; it holds from the next request of whoever has it',
  needs: 'people',
  query: empty,
  body: z.strictObject({ definition: roleDefinitionSchema, revision: z.int() }),
  answer: roleShape,
});

const roleReplay = z.object({
  /** How many saves were looked at, and how many of them the role would refuse. */
  looked: z.number(),
  refused: z.number(),
  /** Why, the most frequent reason first: how many saves it is about, and the newest of these whose records the caller sees. */
  reasons: z.array(
    z.object({
      table: z.string(),
      message: z.string(),
      saves: z.number(),
      examples: z.array(z.object({ record: z.number(), title: z.string(), account: z.string() })),
    }),
  ),
});
export type RoleReplay = z.infer<typeof roleReplay>;

export const replayRole = contract({
  method: 'POST',
  path: '/api/cabinets/{cabinet}/roles/{role}/replay',
  summary: 'Hold the last 500 saves of the people with a role against what it would allow; nothing is written',
  needs: 'people',
  reads: true,
  query: empty,
  body: z.strictObject({ definition: roleDefinitionSchema }),
  answer: roleReplay,
});

export const deleteRole = contract({
  method: 'DELETE',
  path: '/api/cabinets/{cabinet}/roles/{role}',
  summary: 'Delete a role that nobody has',
  needs: 'people',
  query: empty,
  body: nothing,
  answer: empty,
});

export const seeAs = contract({
  method: 'PUT',
  path: '/api/session/seen-as',
  summary: 'See a cabinet as a role has it, in this session, without changing anything; for whoever builds',
  needs: 'account',
  query: empty,
  body: z.strictObject({ cabinet: z.string().max(60), role: z.string().max(60) }),
  answer: empty,
});

export const stopSeeingAs = contract({
  method: 'DELETE',
  path: '/api/session/seen-as',
  summary: 'See the cabinets under one’s own role again',
  needs: 'account',
  query: empty,
  body: nothing,
  answer: empty,
});
