import { routes } from '@fiche/core/api';
import { plainListing } from '@fiche/core/views';
import type { FastifyInstance } from 'fastify';
import { route } from '../access/index.ts';
import type { Services } from '../services.ts';
import { requireReadable, tableOf, viewOf } from '../views/index.ts';
import { cabinetFileRoutes } from './cabinetRoutes.ts';
import { calendarRoutes } from './calendars.ts';
import { orderRoutes } from './orderRoutes.ts';
import { fileOf, sendFile } from './sending.ts';

/** Everything that leaves the office as a file. */
export function exportRoutes(app: FastifyInstance, services: Services): void {
  calendarRoutes(app, services);
  cabinetFileRoutes(app, services);
  orderRoutes(app, services);

  route(app, services, routes.exportTable, async (call) => {
    const table = tableOf(call);
    const { asOf, ...query } = call.query;
    const listing = plainListing(table);
    return sendFile(
      services,
      call,
      await fileOf(services, call, { ...query, listing, by: 'up' }, table.label, asOf),
      asOf,
    );
  });
  route(app, services, routes.exportView, async (call) => {
    const { asked, asOf, ...query } = call.query;
    const { listing, label } = await viewOf(call, services, asked);
    return sendFile(services, call, await fileOf(services, call, { ...query, listing }, label, asOf), asOf);
  });
  route(app, services, routes.exportRows, async (call) => {
    const { asOf, ...query } = call.query;
    requireReadable(call, query.listing);
    return sendFile(services, call, await fileOf(services, call, query, tableOf(call).label, asOf), asOf);
  });
}
