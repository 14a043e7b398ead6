import { type AttachmentSettings, filesOf, itemsOf, type Value, writeFileToken } from '@fiche/core/fields';
import { say } from '@fiche/core/languages';
import CloseIcon from '@mui/icons-material/Close';
import IconButton from '@mui/material/IconButton';
import { clsx } from 'clsx';
import { type ClipboardEvent, type DragEvent, useContext, useRef, useState } from 'react';
import { describedBy } from '../parts/index.ts';
import attachmentsCss from './attachments.module.css';
import { FileAdding, limitsOf, SendingItems } from './FileAdding.tsx';
import type { InputProps } from './input.ts';
import { sentPictures, UploadContext } from './uploads.ts';
import { useSending } from './useSending.ts';

/** Files of a field: picked, dropped, pasted or photographed, many at once, each with its progress and its way back. */
export function AttachmentsInput(props: InputProps) {
  const { id, field, value, invalid, subform, onChanged, onLeft } = props;
  const place = useContext(UploadContext);
  const settings = field.field.settings as AttachmentSettings;
  const [over, setOver] = useState(false);
  // Answers come while others are on their way: each adds to what stands then.
  const latest = useRef<Value>(value);
  latest.current = value;
  const set = (tokens: readonly string[]): void => {
    const next = tokens.length === 0 ? null : [...tokens];
    latest.current = next;
    onChanged(next);
  };
  const way = useSending({
    field,
    subform,
    room: () => settings.mostCount - itemsOf(latest.current).length,
    most: say('at most {most} files fit here', { most: settings.mostCount }),
    onArrived: (token) => set([...(itemsOf(latest.current) as string[]), token]),
  });
  const onDrop = (event: DragEvent): void => {
    event.preventDefault();
    setOver(false);
    way.add(event.dataTransfer.files);
  };
  const onPaste = (event: ClipboardEvent): void => {
    if (event.clipboardData.files.length === 0) return;
    event.preventDefault();
    event.stopPropagation();
    way.add(event.clipboardData.files);
  };
  const files = filesOf(value);
  const one = settings.mostCount === 1;
  const full = files.length + way.onTheWay >= settings.mostCount;
  return (
    <div
      data-files
      className={clsx(attachmentsCss.attachments, over && attachmentsCss.over)}
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
                <span className={attachmentsCss.name}>{one.name}</span>
              ) : (
                <a className={attachmentsCss.name} href={address} target="_blank" rel="noreferrer">
                  {one.name}
                </a>
              )}
              <IconButton
                aria-label={say('Remove {what}', { what: one.name })}
                onClick={() => set((itemsOf(latest.current) as string[]).filter((item) => item !== token))}
              >
                <CloseIcon />
              </IconButton>
            </li>
          );
        })}
        <SendingItems field={field} {...way} />
      </ul>
      {!full && (
        <FileAdding
          field={field}
          id={id}
          invalid={invalid}
          describedBy={describedBy(id)}
          how={one ? say('or drop or paste it here') : say('or drop or paste them here')}
          limits={`${limitsOf(settings)}, ${one ? say('one file') : say('at most {most}', { most: settings.mostCount })}`}
          multiple={!one}
          onFiles={way.add}
          onLeft={onLeft}
        />
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
