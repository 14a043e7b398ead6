import { buildApp } from '@fiche/server/app';
import { connect } from '@fiche/server/database/index';
import { DefinitionCache } from '@fiche/server/definitions/index';

// The server alone, in a process of its own like in use: prints its port.
const databases = connect(process.env.DATABASE_URL ?? '', { app: 16, owner: 2 });
const services = {
  databases,
  definitions: new DefinitionCache(databases.app),
  sample: false,
  checkAnswers: false,
  secureCookies: false,
};
const app = await buildApp({ services });
await app.listen({ port: 0, host: '127.0.0.1' });
process.stdout.write(`${(app.server.address() as { port: number }).port}\n`);
