import type { Contract, Need } from '@fiche/core/api';
import type { FastifyInstance } from 'fastify';
import { z } from 'zod';
import { contractsOf } from './access/index.ts';
import { type Example, exampleOf } from './examples/index.ts';

const json = (schema: z.ZodType, io: 'input' | 'output') =>
  z.toJSONSchema(schema, { io, unrepresentable: 'any', target: 'draft-2020-12' });

/** The parts of the interface, by how their addresses begin; the first that fits counts. */
const TAGS: readonly (readonly [name: string, begins: RegExp])[] = [
  ['Records', /^\/api\/tables\/\{table\}\/(records|at|files|export|choices|lookups|checks|why|entries)/],
  ['Forms, filled', /^\/api\/forms\/\{form\}(\/(records|choices|lookups|checks|why|files|entries|held.*))?$/],
  ['Imports', /^\/api\/cabinets\/\{cabinet\}\/imports/],
  ['People, roles and tokens', /^\/api\/cabinets\/\{cabinet\}\/(accounts|roles|tokens)/],
  ['The outbox', /^\/api\/cabinets\/\{cabinet\}\/messages/],
  ['Cabinets', /^\/api\/cabinets/],
  ['Tables and fields', /^\/api\/tables/],
  ['Forms, built', /^\/api\/forms/],
  ['Public pages', /^\/api\/public/],
  ['One’s own account', /^\/api\/(account|session|events|password|first)/],
  ['The server', /^/],
];
const tagOf = (path: string): string => TAGS.find(([, begins]) => begins.test(path))?.[0] ?? '';

/** Who may call a route, in words. */
const NEED_WORDS: Readonly<Record<Need, string>> = {
  nobody: 'For anybody.',
  account: 'For anybody who is signed in; not for a token.',
  fill: 'Needs the right to see or to add records of the table.',
  see: 'Needs the right to see records; where a table is named, of that table.',
  add: 'Needs the right to add records.',
  change: 'Needs the right to change records.',
  archive: 'Needs the right to archive records.',
  export: 'Needs the right to export records.',
  import: 'Needs the right to import into a table.',
  history: 'Needs the right to read change histories.',
  ledger: 'Needs the right to read the ledger.',
  build: 'Needs the right to build tables and forms.',
  people: 'Needs the right to manage people.',
  outbox: 'Needs the right to read the outbox.',
  erase: 'Needs the right to erase records for good.',
};

const PROBLEM = {
  type: 'object',
  properties: {
    title: { type: 'string' },
    status: { type: 'integer' },
    detail: { type: 'string', description: 'What is wrong and what to do, in words' },
    errors: {
      type: 'array',
      items: {
        type: 'object',
        properties: { path: { type: 'string' }, rule: { type: 'string' }, message: { type: 'string' } },
      },
    },
  },
};

/** What is sent with a request: JSON, or a file as it is; nothing with most questions. */
function bodyOf({ method, body }: Contract, example: Example | undefined): object {
  if (example?.file !== undefined)
    return {
      requestBody: {
        content: { 'application/octet-stream': { schema: { type: 'string', format: 'binary' } } },
      },
    };
  if (method === 'GET' || (method === 'DELETE' && example?.body === undefined)) return {};
  return {
    requestBody: { content: { 'application/json': { schema: json(body, 'input'), example: example?.body } } },
  };
}

/** The HTTP interface described by OpenAPI 3.1, out of the contracts that the server answers. */
export function openApi(app: FastifyInstance): object {
  const paths: Record<string, Record<string, object>> = {};
  for (const one of contractsOf(app)) {
    const example = exampleOf(`${one.method} ${one.path}`);
    const params = [...one.path.matchAll(/\{(\w+)\}/g)].map(([, name]) => ({
      name,
      in: 'path',
      required: true,
      schema: { type: 'string' },
      example: example?.params[name ?? ''],
    }));
    const query = json(one.query, 'input') as { properties?: Record<string, object>; required?: string[] };
    const queries = Object.entries(query.properties ?? {}).map(([name, schema]) => ({
      name,
      in: 'query',
      required: query.required?.includes(name) ?? false,
      schema,
      example: example?.query?.[name],
    }));
    const problem = {
      description: 'A problem document (RFC 9457)',
      content: { 'application/problem+json': { schema: PROBLEM } },
    };
    paths[one.path] = {
      ...paths[one.path],
      [one.method.toLowerCase()]: {
        tags: [tagOf(one.path)],
        summary: one.summary,
        description: NEED_WORDS[one.needs],
        security: one.needs === 'nobody' ? [] : [{ token: [] }],
        'x-needs': one.needs,
        parameters: [...params, ...queries],
        ...bodyOf(one, example),
        responses: {
          200: { description: 'Done', content: { 'application/json': { schema: json(one.answer, 'output') } } },
          default: problem,
        },
      },
    };
  }
  return {
    openapi: '3.1.0',
    info: {
      title: 'Fiche',
      version: '0.1.0',
      description:
        'Every answer is JSON, and every refusal a problem document that says at which field what is wrong. A program calls with a token that the People page makes, as “Authorization: Bearer …”. docs/API.md goes from a token to a record.',
    },
    tags: TAGS.map(([name]) => ({ name })),
    components: { securitySchemes: { token: { type: 'http', scheme: 'bearer' } } },
    paths,
  };
}
