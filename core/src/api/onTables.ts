import { z } from 'zod';
import { calculationSchema, groupSchema, pathSchema } from '../conditions/index.ts';
import { isFieldType, valueSchema } from '../fields/index.ts';
import { ruleSchema } from '../rules/index.ts';
import {
  constraintSchema,
  idSchema,
  initialSchema,
  labelSchema,
  newFieldSchema,
  rippleSchema,
} from '../tables/index.ts';
import { contract } from './contract.ts';
import { empty, nothing, tableShape, taskShape } from './shapes.ts';

const settings = z.record(z.string(), z.unknown());
/** The table's revision that the builder saw; a change over an older one is refused. */
const revision = z.int().min(1).optional();
/** The table as it is now, and the work that goes on in the background, if the change needs any. */
const changed = z.object({ table: tableShape, task: taskShape.nullable() });
const examples = z.array(z.object({ id: z.number(), title: z.string(), value: z.string(), why: z.string() }));

export const createTable = contract({
  method: 'POST',
  path: '/api/cabinets/{cabinet}/tables',
  summary: 'Make a table',
  needs: 'build',
  query: empty,
  body: z.strictObject({ label: labelSchema, description: z.string().max(1_000).default('') }),
  answer: tableShape,
});
export const createList = contract({
  method: 'POST',
  path: '/api/cabinets/{cabinet}/lists',
  summary: 'Make an option list with one or more levels',
  needs: 'build',
  query: empty,
  body: z.strictObject({ label: labelSchema, levels: z.array(labelSchema).min(1).max(6) }),
  answer: tableShape,
});
export const useList = contract({
  method: 'POST',
  path: '/api/tables/{table}/use',
  summary: 'Add a field for each level of an option list to a table, or to a new one',
  needs: 'build',
  query: empty,
  body: z.union([z.strictObject({ table: idSchema }), z.strictObject({ label: labelSchema })]),
  answer: tableShape,
});
const madeLines = z.object({
  /** The table of the records that the lines belong to. */
  table: tableShape,
  /** Its field for the total of all amounts. */
  total: idSchema,
  lines: tableShape,
  /** The field of the lines that names the record they belong to. */
  link: idSchema,
  /** The field of the lines that is quantity × price. */
  amount: idSchema,
});
export type MadeLines = z.infer<typeof madeLines>;
export const makeLines = contract({
  method: 'POST',
  path: '/api/tables/{table}/lines',
  summary: 'Make a table for lines of a table’s records, with quantity, price and amount, and a field for their total',
  needs: 'build',
  query: empty,
  body: z.strictObject({ label: labelSchema }),
  answer: madeLines,
});
export const changeTable = contract({
  method: 'PATCH',
  path: '/api/tables/{table}',
  summary: 'Change a table’s label, description, title or rules',
  needs: 'build',
  query: empty,
  body: z
    .strictObject({
      label: labelSchema,
      description: z.string().max(1_000),
      title: z.string().min(1).max(300).nullable(),
      rules: z.array(ruleSchema).max(100),
      /** What a reference card of its records shows, as paths of columns. */
      card: z.array(pathSchema).max(40),
      /** What else is written when one of its records is saved, in order. */
      ripples: z.array(rippleSchema).max(50),
      archived: z.boolean(),
      revision,
    })
    .partial(),
  answer: tableShape,
});

/** What the records that are there already shall hold in a new field. */
export const backfillSchema = z.discriminatedUnion('kind', [
  z.strictObject({ kind: z.literal('nothing') }),
  z.strictObject({ kind: z.literal('value'), value: valueSchema }),
  z.strictObject({ kind: z.literal('calculation'), expression: z.string().trim().min(1).max(2_000) }),
]);
export type Backfill = z.infer<typeof backfillSchema>;
export const addField = contract({
  method: 'POST',
  path: '/api/tables/{table}/fields',
  summary: 'Add a field, and say what the records that are there shall hold in it',
  needs: 'build',
  query: empty,
  body: z.strictObject({ field: newFieldSchema, backfill: backfillSchema.default({ kind: 'nothing' }) }),
  answer: changed,
});
export const copyFields = contract({
  method: 'POST',
  path: '/api/tables/{table}/fields/copy',
  summary: 'Take over fields of another table: their definitions, not their data',
  needs: 'build',
  query: empty,
  body: z.strictObject({ from: idSchema, fields: z.array(idSchema).min(1).max(200) }),
  answer: tableShape,
});
export const changeField = contract({
  method: 'PATCH',
  path: '/api/tables/{table}/fields/{field}',
  summary: 'Change a field',
  needs: 'build',
  query: empty,
  body: z
    .strictObject({
      label: labelSchema,
      help: z.string().max(1_000),
      required: z.boolean(),
      unique: z.boolean(),
      settings,
      initial: initialSchema.nullable(),
      calculation: calculationSchema.nullable(),
      narrowing: groupSchema.nullable(),
      position: z.int().min(0).max(2_000),
      revision,
    })
    .partial(),
  answer: changed,
});
export const retireField = contract({
  method: 'POST',
  path: '/api/tables/{table}/fields/{field}/retire',
  summary: 'Archive a field; its column and history stay',
  needs: 'build',
  query: empty,
  body: nothing,
  answer: tableShape,
});
export const returnField = contract({
  method: 'POST',
  path: '/api/tables/{table}/fields/{field}/return',
  summary: 'Bring a field back into use',
  needs: 'build',
  query: empty,
  body: nothing,
  answer: tableShape,
});

const newType = {
  type: z.string().refine(isFieldType, 'There is no such field type.'),
  settings: settings.default({}),
  /** For a link: the column of the other table that the values are matched with. */
  matchOn: idSchema.optional(),
};
export const previewType = contract({
  method: 'POST',
  path: '/api/tables/{table}/fields/{field}/conversion',
  summary: 'How many values would convert to another type, and which would not',
  needs: 'build',
  query: empty,
  body: z.strictObject(newType),
  answer: z.object({
    converts: z.number(),
    blank: z.number(),
    fails: z.number(),
    /** A few values as they are and as they would be. */
    samples: z.array(z.object({ from: z.string(), to: z.string() })),
    failing: examples,
    /** The distinct words of the column, for a field that gets choices: at most 200. */
    words: z.array(z.string()),
  }),
});
export const changeType = contract({
  method: 'POST',
  path: '/api/tables/{table}/fields/{field}/type',
  summary: 'Give a field another type; values that do not convert refuse it, or are blanked by name',
  needs: 'build',
  query: empty,
  body: z.strictObject({ ...newType, unconverted: z.enum(['refuse', 'blank']).default('refuse'), revision }),
  answer: changed,
});

const fieldLevel = z.strictObject({
  field: idSchema,
  /** The option list, and its level. */
  table: idSchema,
  column: idSchema,
});
/** A field, and the level of an option list that it holds the words of. */
export type FieldLevel = z.infer<typeof fieldLevel>;
export const fieldLevels = contract({
  method: 'GET',
  path: '/api/tables/{table}/levels',
  summary: 'Which fields hold the words of an option list’s levels: all levels of a list together',
  needs: 'build',
  query: empty,
  body: nothing,
  answer: z.object({ levels: z.array(fieldLevel) }),
});
export const takeLevels = contract({
  method: 'POST',
  path: '/api/tables/{table}/levels',
  summary: 'Turn these fields into choices from the levels of an option list; a value that is not in it refuses all',
  needs: 'build',
  query: empty,
  body: z.strictObject({ levels: z.array(fieldLevel).min(1).max(60), revision }),
  answer: changed,
});

/** Something that is to hold for every record. */
export const holdSchema = z.discriminatedUnion('kind', [
  z.strictObject({ kind: z.literal('required'), field: idSchema }),
  z.strictObject({ kind: z.literal('unique'), field: idSchema }),
  z.strictObject({ kind: z.literal('limits'), field: idSchema, settings }),
  z.strictObject({ kind: z.literal('constraint'), constraint: constraintSchema }),
  z.strictObject({ kind: z.literal('narrowing'), field: idSchema, narrowing: groupSchema }),
]);
export type Hold = z.infer<typeof holdSchema>;
export const tryHold = contract({
  method: 'POST',
  path: '/api/tables/{table}/trial',
  summary: 'How many records break something before it is switched on, and which',
  needs: 'build',
  query: empty,
  body: holdSchema,
  answer: z.object({ breaks: z.number(), examples }),
});
export const addConstraint = contract({
  method: 'POST',
  path: '/api/tables/{table}/constraints',
  summary: 'Let the database hold a rule over several fields',
  needs: 'build',
  query: empty,
  body: z.strictObject({ constraint: constraintSchema, revision }),
  answer: changed,
});
export const removeConstraint = contract({
  method: 'DELETE',
  path: '/api/tables/{table}/constraints/{constraint}',
  summary: 'Take such a rule away',
  needs: 'build',
  query: empty,
  body: nothing,
  answer: tableShape,
});

const combination = z.array(z.string().max(200)).min(1).max(6);
export const saveCombinations = contract({
  method: 'POST',
  path: '/api/tables/{table}/combinations',
  summary: 'Change the combinations of an option list: all of it or nothing',
  needs: 'build',
  query: empty,
  body: z.strictObject({
    add: z.array(combination).max(5_000).default([]),
    change: z
      .array(z.strictObject({ id: z.int().min(1), version: z.int().min(1), levels: combination }))
      .max(5_000)
      .default([]),
    archive: z
      .array(z.strictObject({ id: z.int().min(1), version: z.int().min(1) }))
      .max(5_000)
      .default([]),
  }),
  answer: z.object({ added: z.number(), changed: z.number(), archived: z.number() }),
});

export const linkingRecords = contract({
  method: 'GET',
  path: '/api/tables/{table}/records/{id}/linking',
  summary: 'The records that link to a record, by table and field',
  needs: 'see',
  query: empty,
  body: nothing,
  answer: z.object({
    linking: z.array(
      z.object({
        table: z.string(),
        field: z.string(),
        count: z.number(),
        records: z.array(z.object({ id: z.number(), title: z.string() })),
      }),
    ),
  }),
});

export const listTasks = contract({
  method: 'GET',
  path: '/api/cabinets/{cabinet}/tasks',
  summary: 'Work in the background, and what was over lately',
  needs: 'see',
  query: empty,
  body: nothing,
  answer: z.object({ tasks: z.array(taskShape) }),
});
export const readTask = contract({
  method: 'GET',
  path: '/api/cabinets/{cabinet}/tasks/{task}',
  summary: 'How far a work is',
  needs: 'see',
  query: empty,
  body: nothing,
  answer: taskShape,
});
export const cancelTask = contract({
  method: 'POST',
  path: '/api/cabinets/{cabinet}/tasks/{task}/cancel',
  summary: 'Stop a work of one’s own, or as a builder anybody’s; nothing is left half done',
  needs: 'see',
  query: empty,
  body: nothing,
  answer: taskShape,
});
