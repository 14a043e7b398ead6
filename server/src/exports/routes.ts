import { routes } from '@fiche/core/api';
import { type Listing, plainListing } from '@fiche/core/views';
import type { FastifyInstance } from 'fastify';
import { route } from '../access/index.ts';
import type { Services } from '../services.ts';
import { type Read, shownOf, tableOf, viewOf } from '../views/index.ts';
import { cabinetFileRoutes } from './cabinetRoutes.ts';
import { calendarRoutes } from './calendars.ts';
import { orderRoutes } from './orderRoutes.ts';
import { fileOf, readable, sendFile } from './sending.ts';

/** Everything that leaves the office as a file. */
export function exportRoutes(app: FastifyInstance, services: Services): void {
  calendarRoutes(app, services);
  cabinetFileRoutes(app, services);
  orderRoutes(app, services);

  route(app, services, routes.exportTable, async (call) => {
    const table = tableOf(call);
    const { asOf, ...query } = call.query;
    const all = (read: Read): Listing => plainListing(read.table);
    return sendFile(services, call, await fileOf(services, call, { ...query, by: 'up' }, all, table.label, asOf), asOf);
  });
  route(app, services, routes.exportView, async (call) => {
    const { asked, asOf, ...query } = call.query;
    const { listing, label } = await viewOf(call, services, asked);
    const shown = (read: Read): Listing => shownOf(listing, read);
    return sendFile(services, call, await fileOf(services, call, query, shown, label, asOf), asOf);
  });
  route(app, services, routes.exportRows, async (call) => {
    const { asOf, listing, ...query } = call.query;
    return sendFile(
      services,
      call,
      await fileOf(services, call, query, readable(listing), tableOf(call).label, asOf),
      asOf,
    );
  });
}
