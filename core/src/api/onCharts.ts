import { z } from 'zod';
import { figuresSchema } from '../charts/index.ts';
import { listingSchema } from '../views/index.ts';
import { contract } from './contract.ts';
import { momentInAddress } from './onPast.ts';
import { answersInAddress, empty, nothing } from './shapes.ts';

/** Which records of a listing are meant, beside its own filter. */
export const ofListing = {
  /** Words that each have to stand somewhere in what a row shows. */
  search: z.string().max(200).default(''),
  archived: z.enum(['no', 'yes']).default('no'),
  /** `field:id`: only records whose link points there. */
  linking: z.string().max(200).optional(),
  /** The records as they stood at that moment. */
  asOf: momentInAddress.optional(),
};

export const viewFigures = contract({
  method: 'GET',
  path: '/api/tables/{table}/views/{view}/figures',
  summary: 'The figures of a view that is shown as a chart',
  needs: 'see',
  query: z.object({ ...ofListing, asked: answersInAddress }),
  body: nothing,
  answer: figuresSchema,
});

export const listFigures = contract({
  method: 'POST',
  path: '/api/tables/{table}/figures',
  summary: 'The figures of a listing that is shown as a chart and is no view yet',
  needs: 'see',
  reads: true,
  query: empty,
  body: z.strictObject({ ...ofListing, listing: listingSchema }),
  answer: figuresSchema,
});
