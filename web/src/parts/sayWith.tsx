import { say } from '@fiche/core/languages';
import { Fragment, type ReactNode } from 'react';

/**
 * A text in the language of its reader with more than text in its places: a link, a word that stands out, or nothing.
 *
 * @example
 * sayWith('Add one, or {link}.', { link: <Link to="import">{say('import a file')}</Link> });
 */
export const sayWith = (english: string, places: Readonly<Record<string, ReactNode>>): ReactNode =>
  say(english)
    .split(/(\{\w+\})/)
    .map((part, at) => {
      const name = /^\{(\w+)\}$/.exec(part)?.[1];
      // biome-ignore lint/suspicious/noArrayIndexKey: the parts of a text stay in their order
      return <Fragment key={at}>{name !== undefined && Object.hasOwn(places, name) ? places[name] : part}</Fragment>;
    });
