import type { FastifyInstance } from 'fastify';
import { z } from 'zod';
import { contractsOf } from './access/index.ts';

const json = (schema: z.ZodType, io: 'input' | 'output') =>
  z.toJSONSchema(schema, { io, unrepresentable: 'any', target: 'draft-2020-12' });

/** The HTTP interface described by OpenAPI 3.1, out of the contracts that the server answers. */
export function openApi(app: FastifyInstance): object {
  const paths: Record<string, Record<string, object>> = {};
  for (const one of contractsOf(app)) {
    const params = [...one.path.matchAll(/\{(\w+)\}/g)].map(([, name]) => ({
      name,
      in: 'path',
      required: true,
      schema: { type: 'string' },
    }));
    const query = json(one.query, 'input') as { properties?: Record<string, object>; required?: string[] };
    const queries = Object.entries(query.properties ?? {}).map(([name, schema]) => ({
      name,
      in: 'query',
      required: query.required?.includes(name) ?? false,
      schema,
    }));
    const problem = {
      description: 'A problem document (RFC 9457)',
      content: { 'application/problem+json': { schema: { type: 'object' } } },
    };
    paths[one.path] = {
      ...paths[one.path],
      [one.method.toLowerCase()]: {
        summary: one.summary,
        'x-needs': one.needs,
        parameters: [...params, ...queries],
        ...(one.method === 'GET' || one.method === 'DELETE'
          ? {}
          : { requestBody: { content: { 'application/json': { schema: json(one.body, 'input') } } } }),
        responses: {
          200: { description: 'Done', content: { 'application/json': { schema: json(one.answer, 'output') } } },
          default: problem,
        },
      },
    };
  }
  return { openapi: '3.1.0', info: { title: 'Fiche', version: '0.1.0' }, paths };
}
