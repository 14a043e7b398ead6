import { z } from 'zod';
import { contract } from './contract.ts';
import { recordFilter } from './onRecords.ts';
import { empty, nothing } from './shapes.ts';

const file = z.unknown();

export const exportTable = contract({
  method: 'GET',
  path: '/api/tables/{table}/export',
  summary: 'The records of a table that a search finds as CSV, links by their titles',
  needs: 'export',
  query: z.object(recordFilter),
  body: nothing,
  answer: file,
});
export const exportCabinet = contract({
  method: 'GET',
  path: '/api/cabinets/{cabinet}/export',
  summary: 'A cabinet file: definitions as JSON, data as CSV, in a zip',
  needs: 'build',
  query: empty,
  body: nothing,
  answer: file,
});
export const importCabinet = contract({
  method: 'POST',
  path: '/api/cabinets/{cabinet}/cabinet-file',
  summary: 'Fill an empty cabinet from a cabinet file, sent as application/octet-stream',
  needs: 'build',
  query: z.object({ file: z.string().min(1).max(300) }),
  body: z.unknown(),
  answer: z.object({ tables: z.number(), forms: z.number(), records: z.number(), notes: z.array(z.string()) }),
});
export const cabinetFileSchema = contract({
  method: 'GET',
  path: '/api/schemas/cabinet-file.json',
  summary: 'The JSON Schema of the definitions in a cabinet file',
  needs: 'nobody',
  query: empty,
  body: nothing,
  answer: file,
});
