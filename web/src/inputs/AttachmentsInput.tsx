import type { FileAnswer } from '@fiche/core/api';
import { type AttachmentSettings, filesOf, itemsOf, KINDS, type Value, writeFileToken } from '@fiche/core/fields';
import { type ClipboardEvent, type DragEvent, useContext, useEffect, useRef, useState } from 'react';
import { sendFile } from '../client/index.ts';
import { describedBy } from '../parts/index.ts';
import type { InputProps } from './input.ts';
import { countUpload, sentPictures, UploadContext } from './uploads.ts';
import './attachments.css';

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
const ACCEPT = { any: undefined, pictures: 'image/*', documents: 'image/*,application/pdf' } as const;

/** Files of a field: picked, dropped, pasted or photographed, many at once, each with its progress and its way back. */
export function AttachmentsInput(props: InputProps) {
  const { id, field, value, invalid, subform, onChanged, onLeft } = props;
  const place = useContext(UploadContext);
  const settings = field.field.settings as AttachmentSettings;
  const [sending, setSending] = useState<readonly Sending[]>([]);
  const [over, setOver] = useState(false);
  const picker = useRef<HTMLInputElement>(null);
  const camera = useRef<HTMLInputElement>(null);
  const aborts = useRef(new Map<string, AbortController>());
  const queue = useRef<Sending[]>([]);
  const busy = useRef(0);
  // Answers come while others are on their way: each adds to what stands then.
  const latest = useRef<Value>(value);
  latest.current = value;
  const changed = useRef(onChanged);
  changed.current = onChanged;
  const set = (tokens: readonly string[]): void => {
    const next = tokens.length === 0 ? null : [...tokens];
    latest.current = next;
    changed.current(next);
  };
  useEffect(() => {
    const open = aborts.current;
    return () => {
      for (const one of open.values()) one.abort();
    };
  }, []);

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
      const there = itemsOf(latest.current) as string[];
      set([...there, sent.token]);
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
    const room = settings.mostCount - itemsOf(latest.current).length - sending.length;
    const chosen = [...files].map((file, at): Sending => {
      const trouble =
        file.size === 0
          ? `${file.name} is empty: there is nothing in it.`
          : file.size > settings.largest * MB
            ? `${file.name} has ${Math.ceil(file.size / MB)} MB: at most ${settings.largest} MB fit.`
            : at >= room
              ? `${file.name} was left out: at most ${settings.mostCount} files fit here.`
              : undefined;
      return { key: crypto.randomUUID(), file, share: 0, trouble };
    });
    setSending((all) => [...all, ...chosen]);
    queue.current.push(...chosen.filter((one) => one.trouble === undefined));
    next();
  };
  const retry = (one: Sending): void => {
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
  const onDrop = (event: DragEvent): void => {
    event.preventDefault();
    setOver(false);
    add(event.dataTransfer.files);
  };
  const onPaste = (event: ClipboardEvent): void => {
    if (event.clipboardData.files.length === 0) return;
    event.preventDefault();
    event.stopPropagation();
    add(event.clipboardData.files);
  };
  const files = filesOf(value);
  const adding = settings.mostCount === 1 ? 'Add a file' : 'Add files';
  const full = files.length + sending.length >= settings.mostCount;
  const limits = `${KINDS[settings.kinds].words}, up to ${settings.largest} MB each${settings.mostCount === 1 ? ', one file' : `, at most ${settings.mostCount}`}`;
  const file = (ref: typeof picker, capture: boolean) => (
    <input
      ref={ref}
      type="file"
      hidden
      multiple={settings.mostCount > 1}
      accept={capture ? 'image/*' : ACCEPT[settings.kinds]}
      capture={capture ? 'environment' : undefined}
      aria-label={`${field.label}, ${capture ? 'photo' : 'files'}`}
      onChange={(event) => {
        add(event.target.files ?? []);
        event.target.value = '';
      }}
    />
  );
  return (
    <div
      className={`attachments${over ? ' over' : ''}`}
      onDragOver={(event) => {
        event.preventDefault();
        setOver(true);
      }}
      onDragLeave={() => setOver(false)}
      onDrop={onDrop}
      onPaste={onPaste}
    >
      <ul aria-label={field.label}>
        {files.map((one) => {
          const token = writeFileToken(one);
          const address = `/api/tables/${props.table}/files/${one.id}`;
          const picture = sentPictures.get(token) ?? (place?.anonymous ? undefined : `${address}/thumbnail`);
          return (
            <li key={token}>
              {picture && <Thumbnail source={picture} />}
              {place?.anonymous ? (
                <span className="name">{one.name}</span>
              ) : (
                <a className="name" href={address} target="_blank" rel="noreferrer">
                  {one.name}
                </a>
              )}
              <button
                type="button"
                className="sign"
                aria-label={`Take out ${one.name}`}
                onClick={() => set((itemsOf(latest.current) as string[]).filter((item) => item !== token))}
              >
                ✕
              </button>
            </li>
          );
        })}
        {sending.map((one) => (
          <li key={one.key} className={one.trouble ? 'trouble' : ''}>
            <span className="name">{one.trouble ?? one.file.name}</span>
            {one.trouble === undefined && <progress value={one.share} aria-label={`${one.file.name}, sent`} />}
            {one.trouble !== undefined && one.file.size > 0 && one.file.size <= settings.largest * MB && (
              <button type="button" className="link" onClick={() => retry(one)}>
                Try again
              </button>
            )}
            <button
              type="button"
              className="sign"
              aria-label={one.trouble ? `Leave out ${one.file.name}` : `Cancel ${one.file.name}`}
              onClick={() => cancel(one.key)}
            >
              ✕
            </button>
          </li>
        ))}
      </ul>
      {!full && (
        <div className="adding">
          <button
            type="button"
            id={id}
            className="link"
            aria-label={`${adding}, ${field.label}`}
            aria-describedby={describedBy(id)}
            aria-invalid={invalid || undefined}
            onClick={() => picker.current?.click()}
            onBlur={onLeft}
          >
            {adding}
          </button>
          <button type="button" className="link photo" onClick={() => camera.current?.click()}>
            Take a photo
          </button>
          <span className="faded">or drop or paste them here: {limits}</span>
          {file(picker, false)}
          {file(camera, true)}
        </div>
      )}
    </div>
  );
}

/** A small picture, and nothing where a file has none. */
function Thumbnail({ source }: { source: string }) {
  const [gone, setGone] = useState(false);
  return gone ? null : <img src={source} alt="" width="56" height="42" loading="lazy" onError={() => setGone(true)} />;
}

export default AttachmentsInput;
