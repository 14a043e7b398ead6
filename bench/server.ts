import { buildApp } from '@fiche/server/app';
import { connect } from '@fiche/server/database/index';
import { createServices } from '@fiche/server/work';

// The server alone, in a process of its own like in use: prints its port.
const databases = connect(process.env.DATABASE_URL ?? '', { app: 16, owner: 2 });
const app = await buildApp({ services: createServices(databases) });
await app.listen({ port: 0, host: '127.0.0.1' });
process.stdout.write(`${(app.server.address() as { port: number }).port}\n`);
