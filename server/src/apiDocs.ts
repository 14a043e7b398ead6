import swagger from '@fastify/swagger';
import swaggerUi from '@fastify/swagger-ui';
import type { FastifyInstance } from 'fastify';

/** Where the page to read the HTTP interface on stands. */
const PAGE = '/api/docs';

/** The page needs styles of its own within its elements; everything else comes from this server. */
const POLICY =
  "default-src 'self'; img-src 'self' data:; style-src 'self' 'unsafe-inline'; object-src 'none'; base-uri 'none'; form-action 'none'; frame-ancestors 'none'";

/** Serves a page on which people read the description of the HTTP interface and try it; its files are our own server's. */
export async function serveApiDocs(app: FastifyInstance, description: object): Promise<void> {
  await app.register(swagger, { mode: 'static', specification: { document: description as never } });
  await app.register(swaggerUi, {
    routePrefix: PAGE,
    staticCSP: POLICY,
    // Nothing is sent to others; what is tried goes to this server, with the token that is given on the page.
    uiConfig: {
      docExpansion: 'none',
      filter: true,
      deepLinking: true,
      validatorUrl: null,
      layout: 'BaseLayout',
      operationsSorter: 'alpha',
    },
    theme: { title: 'Fiche: HTTP interface' },
  });
}
