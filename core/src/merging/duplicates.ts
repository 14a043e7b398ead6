import { z } from 'zod';
import { isLinking, isOneValue, takesWord } from '../fields/index.ts';
import { say, sayLater } from '../languages/index.ts';
import { type FieldDefinition, fieldIdSchema, type TableDefinition, titleFields, typeOf } from '../tables/index.ts';

/** How two values of a field are compared. */
export const MATCH_MODES = [
  { name: 'exact', label: sayLater('is exactly the same') },
  { name: 'loose', label: sayLater('is the same but for case, spaces, marks and accents') },
  { name: 'near', label: sayLater('is spelt almost the same') },
] as const;
export type MatchMode = (typeof MATCH_MODES)[number]['name'];

/** More fields than these say nothing more of whether two records are the same. */
export const MOST_COMPARED_FIELDS = 5;

/** By which fields two records are held for the same: all of them have to be alike, and filled in. */
export const duplicatesSchema = z.strictObject({
  by: z
    .array(z.strictObject({ field: fieldIdSchema, how: z.enum(['exact', 'loose', 'near']) }))
    .min(1, sayLater('Choose at least one field.'))
    .max(MOST_COMPARED_FIELDS, { error: () => say('At most {count} fields.', { count: MOST_COMPARED_FIELDS }) }),
});
export type DuplicatesBy = z.infer<typeof duplicatesSchema>['by'];

/** In which ways the values of a field can be alike: texts that people type in all, other single values exactly; none for lists. */
export function matchModesOf(field: FieldDefinition): readonly MatchMode[] {
  if (isLinking(field)) return typeOf(field).links === 'one' ? ['exact'] : [];
  if (!isOneValue(field)) return [];
  return typeOf(field).family === 'text' && !takesWord(field) ? ['exact', 'loose', 'near'] : ['exact'];
}

/** What duplicates of a table are looked for by to begin with: the first text of its title, or of its fields, almost the same. */
export function proposeDuplicates(table: TableDefinition): DuplicatesBy {
  const texts = [...titleFields(table), ...table.fields].filter((field) => matchModesOf(field).includes('near'));
  const [first] = [...texts.filter((field) => typeOf(field).editable), ...texts];
  return first ? [{ field: first.id, how: 'near' }] : [];
}

/** What is wrong with how duplicates are looked for, each at its place. */
export const duplicatesProblems = (
  by: DuplicatesBy,
  table: TableDefinition,
): { path: string; rule: string; message: string }[] =>
  by.flatMap(({ field: id, how }, at) => {
    const field = table.fields.find((one) => one.id === id);
    const path = `by.${at}`;
    if (!field)
      return [
        {
          path,
          rule: 'field',
          message: say('{id} is not a field of {label}. Choose another.', { id, label: table.label }),
        },
      ];
    if (matchModesOf(field).includes(how)) return [];
    const message =
      matchModesOf(field).length === 0
        ? say('{label} holds several values: records are not compared by it. Choose another field.', {
            label: field.label,
          })
        : say('{label} can only be compared exactly.', { label: field.label });
    return [{ path, rule: 'how', message }];
  });

/** Pairs of records as groups: whoever is like one of a group belongs to it. Groups and their records in order of their numbers. */
export function groupsOf(pairs: Iterable<readonly [number, number]>): number[][] {
  const parent = new Map<number, number>();
  const rootOf = (id: number): number => {
    let root = id;
    for (let next = parent.get(root); next !== undefined && next !== root; next = parent.get(root)) root = next;
    parent.set(id, root);
    return root;
  };
  for (const [one, other] of pairs) {
    const [a, b] = [rootOf(one), rootOf(other)];
    parent.set(Math.max(a, b), Math.min(a, b));
  }
  const groups = new Map<number, number[]>();
  for (const id of [...parent.keys()].sort((a, b) => a - b)) {
    const root = rootOf(id);
    groups.set(root, [...(groups.get(root) ?? []), id]);
  }
  return [...groups.values()].filter((group) => group.length > 1);
}
