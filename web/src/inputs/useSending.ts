import type { FileAnswer } from '@fiche/core/api';
import type { AttachmentSettings } from '@fiche/core/fields';
import type { PreparedField } from '@fiche/core/forms';
import { say } from '@fiche/core/languages';
import { useContext, useEffect, useRef, useState } from 'react';
import { sendFile } from '../client/index.ts';
import { countUpload, sentPictures, UploadContext } from './uploads.ts';

/** A file on its way, or one that did not get there. */
interface Sending {
  readonly key: string;
  readonly file: File;
  readonly share: number;
  readonly trouble?: string;
}

/** So many files are sent at once; the others wait their turn. */
const AT_ONCE = 3;
const MB = 1024 * 1024;

/** Whether sending a file once more could help. */
export const mayRetry = ({ file, trouble }: Sending, { largest }: AttachmentSettings): boolean =>
  trouble !== undefined && file.size > 0 && file.size <= largest * MB;

interface Options {
  readonly field: PreparedField;
  readonly subform?: string;
  /** How many more there may be, those on their way not counted, and of what: “files fit here”. */
  room(): number;
  readonly most: string;
  onArrived(token: string): void;
}

/** Files on their way to a field: each with its progress and its way back. They stop when who shows them is gone. */
export function useSending({ field, subform, room, most, onArrived }: Options) {
  const place = useContext(UploadContext);
  const settings = field.field.settings as AttachmentSettings;
  const [sending, setSending] = useState<readonly Sending[]>([]);
  const aborts = useRef(new Map<string, AbortController>());
  const queue = useRef<Sending[]>([]);
  const busy = useRef(0);
  const arrived = useRef(onArrived);
  arrived.current = onArrived;
  useEffect(() => {
    const open = aborts.current;
    return () => {
      for (const one of open.values()) one.abort();
    };
  }, []);

  // What did not get there takes nobody’s place.
  const onTheWay = sending.filter((one) => one.trouble === undefined).length;
  const change = (key: string, next: Partial<Sending> | undefined): void =>
    setSending((all) =>
      all.flatMap((one) => (one.key !== key ? [one] : next === undefined ? [] : [{ ...one, ...next }])),
    );
  const next = (): void => {
    while (busy.current < AT_ONCE) {
      const one = queue.current.shift();
      if (!one) return;
      void run(one);
    }
  };
  const run = async ({ key, file }: Sending): Promise<void> => {
    if (!place) return;
    busy.current++;
    countUpload(1);
    const abort = new AbortController();
    aborts.current.set(key, abort);
    const query = new URLSearchParams({ field: field.id, name: file.name || 'picture.png' });
    if (subform !== undefined) query.set('subform', subform);
    if (place.formVersion) query.set('formVersion', String(place.formVersion));
    try {
      const sent = await sendFile<FileAnswer>(
        `${place.base}/files?${query}`,
        file,
        (share) => change(key, { share }),
        abort.signal,
      );
      if (sent.kind.startsWith('image/')) sentPictures.set(sent.token, URL.createObjectURL(file));
      arrived.current(sent.token);
      change(key, undefined);
    } catch (error) {
      if (abort.signal.aborted) change(key, undefined);
      else change(key, { trouble: (error as Error).message, share: 0 });
    } finally {
      busy.current--;
      countUpload(-1);
      aborts.current.delete(key);
      next();
    }
  };
  const add = (files: Iterable<File>): void => {
    let left = room() - onTheWay;
    const chosen = [...files].map((file): Sending => {
      const unfit =
        file.size === 0
          ? say('{file} is empty: there is nothing in it.', { file: file.name })
          : file.size > settings.largest * MB
            ? say('{file} has {size} MB: at most {largest} MB fit.', {
                file: file.name,
                size: Math.ceil(file.size / MB),
                largest: settings.largest,
              })
            : undefined;
      const trouble =
        unfit ?? (left-- > 0 ? undefined : say('{file} was left out: {most}.', { file: file.name, most }));
      return { key: crypto.randomUUID(), file, share: 0, trouble };
    });
    setSending((all) => [...all, ...chosen]);
    queue.current.push(...chosen.filter((one) => one.trouble === undefined));
    next();
  };
  const retry = (one: Sending): void => {
    // One that was left out stays so until there is room.
    if (room() - onTheWay < 1) return;
    change(one.key, { trouble: undefined });
    queue.current.push(one);
    next();
  };
  const cancel = (key: string): void => {
    queue.current = queue.current.filter((one) => one.key !== key);
    const abort = aborts.current.get(key);
    if (abort) abort.abort();
    else change(key, undefined);
  };
  return { sending, onTheWay, add, retry, cancel };
}
