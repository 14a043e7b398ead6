import {
  type Destination,
  fieldOfDestination,
  fits,
  homeOf,
  OWN,
  partLabel,
  partsOf,
  tableOfPart,
  writingOrder,
} from '../destinations/index.ts';
import { linksOne } from '../fields/index.ts';
import { formFields } from '../forms/index.ts';
import { say } from '../languages/index.ts';
import { findField, isGiven, typeOf } from '../tables/index.ts';
import type { Check, Examined, Finding } from './finding.ts';

/** Destinations that are gone or linked in a circle, that nothing finds, and values that have no place to go to. */
export const destinations: Check = (examined) => {
  const { definition } = examined;
  const found = definition.destinations;
  if (!found) return [];
  const order = writingOrder(definition);
  const labels = 'circle' in order ? order.circle.map((part) => partLabel(definition, part, examined.tables)) : [];
  const circle =
    labels.length > 0
      ? [
          must(
            say('{list}: the records are linked in a circle. Remove one of these links.', {
              list: labels.join(' points at '),
            }),
            say('None of them could be written first.'),
          ),
        ]
      : [];
  const asRows = definition.opensOn === 'rows' || definition.opensOn === 'blankRows';
  const rows = asRows
    ? [
        must(
          say('The form writes to other tables and opens on rows. Let it open on a card.'),
          say('A row is one record of its own table.'),
        ),
      ]
    : [];
  return [
    ...circle,
    ...rows,
    ...found.of.flatMap((one) => ofDestination(examined, one)),
    ...ofLinks(examined),
    ...ofCopies(examined),
  ];
};

const must = (message: string, why: string, path = 'destinations'): Finding => ({
  rule: 'destination',
  weight: 'must',
  path,
  message,
  why,
});

/** Whether something gives a field of one of the records a value: a field on the form, a copy, or a link. */
function isGivenByForm({ definition }: Examined, part: string, field: string): boolean {
  const id = part === OWN ? field : fieldOfDestination(part, field);
  const { links = [], copies = [] } = definition.destinations ?? {};
  return (
    formFields(definition).some((one) => one.field === id) ||
    links.some((one) => one.of === part && one.field === field) ||
    copies.some((one) => one.of === part && one.to === field)
  );
}

function ofDestination(examined: Examined, { id, table: tableId, does, key }: Destination): Finding[] {
  const { definition, tables } = examined;
  const table = tables.get(tableId);
  const label = partLabel(definition, id, tables);
  if (!table || table.archived)
    return [
      must(
        say('{label} is {table}, and the form writes to it. Remove the destination, or restore the table.', {
          label,
          table: table ? say('archived') : say('not there any more'),
        }),
        say('Nothing could be saved.'),
      ),
    ];
  const found: Finding[] = [];
  if (does !== 'add' && key.length === 0)
    found.push(
      must(
        say('Say what a record of {label} is found by: choose a key field.', { label }),
        say('Nothing could be found.'),
      ),
    );
  for (const one of does === 'add' ? [] : key) {
    const field = findField(table, one);
    if (!field)
      found.push(
        must(
          say('{one} is not a field of {label} any more. Choose another key.', { one, label }),
          say('Nothing could be found.'),
        ),
      );
    else if (!isGivenByForm(examined, id, one))
      found.push(
        must(
          say(
            '{label} is found by {other}, which nothing on the form gives. Put the field on the form, or let another one go to it.',
            { label, other: field.label },
          ),
          say('Nothing could be found.'),
        ),
      );
  }
  if (!partsOf(definition).some((part) => part === id && gives(examined, part)))
    found.push(
      must(
        say('Nothing on the form goes to {label}. Put a field of it on the form, or remove the destination.', {
          label,
        }),
        say('It would never be written.'),
      ),
    );
  return found;
}

/** Whether anything that is entered goes to one of the records. */
const gives = ({ definition }: Examined, part: string): boolean =>
  formFields(definition).some((one) => homeOf(definition, one.field).part === part) ||
  (definition.destinations?.copies ?? []).some((one) => one.of === part);

function ofLinks({ definition, tables }: Examined): Finding[] {
  return (definition.destinations?.links ?? []).flatMap(({ of, field: id, to }) => {
    const table = tables.get(tableOfPart(definition, of));
    const field = findField(table, id);
    const [label, target] = [partLabel(definition, of, tables), partLabel(definition, to, tables)];
    if (!field)
      return [
        must(
          say('{id} of {label} is not there any more. Remove the link to {target}.', { id, label, target }),
          say('The link could not be written.'),
        ),
      ];
    const placed = formFields(definition).some((one) => one.field === (of === OWN ? id : fieldOfDestination(of, id)));
    if (placed)
      return [
        must(
          say(
            '{label} of {other} is on the form, and the form sets it to the record of {target}. Take it off the form, or remove the link.',
            { label: field.label, other: label, target },
          ),
          say('What is entered would be overwritten.'),
          of === OWN ? id : fieldOfDestination(of, id),
        ),
      ];
    return linksOne(field) && String(field.settings.table) === tableOfPart(definition, to)
      ? []
      : [
          must(
            say('{label} of {other} does not point at a record of {target}. Remove the link.', {
              label: field.label,
              other: label,
              target,
            }),
            say('It would point elsewhere.'),
          ),
        ];
  });
}

function ofCopies(examined: Examined): Finding[] {
  const { definition, table, tables } = examined;
  const placed = new Set(formFields(definition).map((one) => one.field));
  const seen = new Set<string>();
  return (definition.destinations?.copies ?? []).flatMap(({ from, of, to }) => {
    const [source, target] = [findField(table, from), findField(tables.get(tableOfPart(definition, of)), to)];
    const place = `${of} ${to}`;
    const twice = seen.has(place) || placed.has(of === OWN ? to : fieldOfDestination(of, to));
    seen.add(place);
    const label = partLabel(definition, of, tables);
    if (!source || !placed.has(from))
      return [
        must(
          say('{label} goes to {other} as well, and is not on the form. Add it, or remove that.', {
            label: source?.label ?? from,
            other: label,
          }),
          say('There is no value.'),
          from,
        ),
      ];
    if (!target || isGiven(target))
      return [
        must(
          say('{label} of {other} cannot be written. Let {third} go elsewhere.', {
            label: target?.label ?? to,
            other: label,
            third: source.label,
          }),
          say('The value would be lost.'),
          from,
        ),
      ];
    if (twice)
      return [
        must(
          say('Two values go to {label} of {other}. Remove one of them.', { label: target.label, other: label }),
          say('One would overwrite the other.'),
          from,
        ),
      ];
    return fits(source, target)
      ? []
      : [
          must(
            say('{label} is {word}, and {other} of {third} is {otherType}. Choose a field of the same type.', {
              label: source.label,
              word: say(typeOf(source).word),
              other: target.label,
              third: label,
              otherType: say(typeOf(target).word),
            }),
            say('The value would not fit.'),
            from,
          ),
        ];
  });
}
