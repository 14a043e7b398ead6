import { type Give, giveOf } from '../changes/index.ts';
import { isBlank, linksOne, type Value, withArticle } from '../fields/index.ts';
import { say } from '../languages/index.ts';
import {
  type FieldDefinition,
  findField,
  isGiven,
  type RippleSource,
  type RippleValue,
  type TableDefinition,
  typeOf,
} from '../tables/index.ts';
import { type RippleEvent, readEvent, shortened, summaryOf } from './event.ts';
import type { Around } from './prepared.ts';

/** What a source gives for a save. */
export type GiveOfEvent = (event: RippleEvent) => Value;

/** What a source gives a field of the target; undefined, with a problem, where it does not fit. */
export function sourceOf(
  { to, from }: RippleValue,
  place: string,
  target: TableDefinition,
  { source, tables, reads, refuse }: Omit<Around, 'stored' | 'named'>,
): GiveOfEvent | undefined {
  const wrong = (message: string): undefined => {
    refuse(place, message);
    return undefined;
  };
  const field = findField(target, to);
  if (!field) return wrong(say('{to} is not a field of {label} any more. Remove it.', { to, label: target.label }));
  if (isGiven(field))
    return wrong(say('{label} is given by the system: a ripple cannot write it.', { label: field.label }));
  const special = specialSource(from, field, source);
  if (typeof special === 'string') return wrong(special);
  if (special) return special;
  const becomes =
    from.kind === 'value' && isBlank(from.value)
      ? ({ kind: 'blank' } as const)
      : (from as Exclude<typeof from, Special>);
  const given = giveOf(becomes, field, source, tables);
  if (typeof given === 'string') return wrong(given);
  for (const path of given.reads) reads.add(path);
  const { give }: { readonly give: Give } = given;
  return (event) => give({ now: event.now, at: (path) => readEvent(event, path) });
}

type Special = Extract<RippleSource, { kind: 'record' | 'account' | 'now' | 'summary' }>;

/** A source that is no value of the record; in words why it does not fit, undefined for any other source. */
function specialSource(
  from: RippleSource,
  field: FieldDefinition,
  source: TableDefinition,
): GiveOfEvent | string | undefined {
  const type = typeOf(field);
  const no = (what: string): string =>
    say('{label} is {type}, which cannot hold {what}.', { label: field.label, type: withArticle(type), what });
  switch (from.kind) {
    case 'record':
      return linksOne(field) && field.settings.table === source.id
        ? (event) => event.record
        : say('{label} does not link to {other}.', { label: field.label, other: source.label });
    case 'account':
      return type.startsWithAccount ? (event) => event.account : no(say('an account'));
    case 'now':
      return type.moments?.now ? (event) => type.moments?.now?.(event.now) ?? null : no('a moment');
    case 'summary': {
      if (type.family !== 'text') return no('words');
      const most = Number(field.settings.mostLength ?? 1_900);
      return (event) => shortened(summaryOf(event), most);
    }
    default:
      return undefined;
  }
}
