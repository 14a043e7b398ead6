import { holdsAddress, isBlank, isLinking } from '../fields/index.ts';
import { showCaptured } from '../history/index.ts';
import { say, sayLater } from '../languages/index.ts';
import { type FieldDefinition, fieldAtPath, type RippleEffect, typeOf } from '../tables/index.ts';
import { type RippleEvent, readEvent, shortened, summaryOf } from './event.ts';
import type { Around, PreparedEffect } from './prepared.ts';

/** The places that the text of a message can have besides fields. */
export const MESSAGE_PLACES: Readonly<Record<string, string>> = {
  record: sayLater('what the record is called'),
  change: sayLater('what changed, in words'),
  account: sayLater('who saved'),
};

const PLACE = /\{([a-z][a-z0-9_.]*)\}/g;

/** The paths of fields that the text of a message shows. */
export const messagePaths = ({ subject, text }: { readonly subject: string; readonly text: string }): string[] =>
  [...`${subject} ${text}`.matchAll(PLACE)].flatMap(([, path = '']) =>
    Object.hasOwn(MESSAGE_PLACES, path) ? [] : [path],
  );

/** Makes a message ready; says where its receiver or a place of its text is none. */
export function prepareMessage(
  { to, subject, text }: Extract<RippleEffect, { does: 'message' }>,
  place: string,
  { source, tables, reads, named, refuse }: Around,
): PreparedEffect {
  const known = (path: string): FieldDefinition | undefined => {
    reads.add(path);
    return fieldAtPath(tables, source.id, path);
  };
  if (to.kind === 'field') {
    const field = known(to.path);
    if (!field)
      refuse(
        `${place}.to`,
        say('{path} is not a field of {label} any more. Choose another.', { path: to.path, label: source.label }),
      );
    else if (!holdsAddress(field))
      refuse(`${place}.to`, say('{label} holds no e-mail address. Choose a field that does.', { label: field.label }));
  }
  for (const path of messagePaths({ subject, text })) {
    const field = known(path);
    if (!field)
      refuse(
        place,
        say('{{path}} is not a field of {label}. Correct it, or take the braces away.', { path, label: source.label }),
      );
    else if (isLinking(field)) named.add(path);
  }
  const filled = (template: string, event: RippleEvent): string =>
    template.replaceAll(PLACE, (_place, path: string) => placeWords(path, event, fieldAtPath(tables, source.id, path)));
  return {
    does: 'message',
    receiverOf: (event) => {
      if (to.kind === 'account') return { login: to.login };
      const address = readEvent(event, to.path);
      return typeof address === 'string' && address !== '' ? { address } : null;
    },
    messageOf: (event) => ({ subject: shortened(filled(subject, event), 200), body: filled(text, event) }),
  };
}

/** What stands in a message in the place of a path. */
function placeWords(path: string, event: RippleEvent, field: FieldDefinition | undefined): string {
  if (path === 'record') return event.title;
  if (path === 'change') return summaryOf(event);
  if (path === 'account') return event.account;
  const value = readEvent(event, path);
  if (!field || isBlank(value)) return '';
  if (isLinking(field)) return showCaptured(field, value, event.titles);
  return typeOf(field).format(value, field.settings);
}
