import { BUILDING_EXAMPLES } from './building.ts';
import { type Example, PLACES } from './example.ts';
import { IMPORT_EXAMPLES } from './importing.ts';
import { FIRST_EXAMPLES, PEOPLE_EXAMPLES } from './people.ts';
import { RECORD_EXAMPLES } from './records.ts';

export { type Example, PLACES } from './example.ts';
export { FIRST_EXAMPLES } from './people.ts';

/** The examples that are sent to one office, in the order of the story. */
export const STORY: readonly Example[] = [
  ...RECORD_EXAMPLES,
  ...IMPORT_EXAMPLES,
  ...BUILDING_EXAMPLES,
  ...PEOPLE_EXAMPLES,
];

/** Streams of events never end, so that they are no request with an answer. */
const STREAMS: readonly Example[] = [
  { route: 'GET /api/events' },
  { route: 'GET /api/tables/{table}/events' },
  { route: 'GET /api/tables/{table}/records/{id}/events', query: { version: 1 } },
];

const byRoute = new Map<string, Example>();
for (const one of [...STORY, ...FIRST_EXAMPLES, ...STREAMS]) if (!byRoute.has(one.route)) byRoute.set(one.route, one);

/** The example of a route, with every parameter of its address; undefined where there is none. */
export function exampleOf(route: string): (Example & { readonly params: Example['params'] & object }) | undefined {
  const example = byRoute.get(route);
  if (!example) return undefined;
  const names = [...route.matchAll(/\{(\w+)\}/g)].map(([, name]) => name ?? '');
  const params = Object.fromEntries(
    names.flatMap((name) => {
      const value = example.params?.[name] ?? PLACES[name];
      return value === undefined ? [] : [[name, value]];
    }),
  );
  return { ...example, params };
}
