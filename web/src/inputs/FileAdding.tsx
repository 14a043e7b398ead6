import { type AttachmentSettings, KINDS } from '@fiche/core/fields';
import type { PreparedField } from '@fiche/core/forms';
import { say } from '@fiche/core/languages';
import CloseIcon from '@mui/icons-material/Close';
import Button from '@mui/material/Button';
import IconButton from '@mui/material/IconButton';
import { clsx } from 'clsx';
import { useRef } from 'react';
import { HiddenFileInput, ProgressBar, textCss } from '../parts/index.ts';
import attachmentsCss from './attachments.module.css';
import { mayRetry, type useSending } from './useSending.ts';

const ACCEPT = { any: undefined, pictures: 'image/*', documents: 'image/*,application/pdf' } as const;

interface Props {
  readonly field: PreparedField;
  /** How else they come here, for those with a mouse. */
  readonly how: string;
  readonly limits: string;
  readonly multiple: boolean;
  readonly id?: string;
  readonly invalid?: boolean;
  readonly describedBy?: string;
  onFiles(files: Iterable<File>): void;
  onLeft?(): void;
}

/** What can come as a file of a field, in words. */
export const limitsOf = ({ kinds, largest }: AttachmentSettings): string =>
  say('{kinds}, up to {largest} MB each', { kinds: KINDS[kinds].words(), largest });

/** Files are picked or, where a hand holds a camera, photographed. */
export function FileAdding({ field, how, limits, multiple, id, invalid, describedBy, onFiles, onLeft }: Props) {
  const picker = useRef<HTMLInputElement>(null);
  const camera = useRef<HTMLInputElement>(null);
  const { kinds } = field.field.settings as AttachmentSettings;
  const pictures = kinds === 'pictures';
  const words = multiple
    ? pictures
      ? say('Add pictures')
      : say('Add files')
    : pictures
      ? say('Add a picture')
      : say('Add a file');
  const file = (ref: typeof picker, capture: boolean) => (
    <HiddenFileInput
      inputRef={ref}
      multiple={multiple}
      accept={capture ? 'image/*' : ACCEPT[kinds]}
      capture={capture ? 'environment' : undefined}
      aria-label={`${field.label}, ${capture ? say('photo') : say('files')}`}
      onChange={(event) => {
        onFiles(event.target.files ?? []);
        event.target.value = '';
      }}
    />
  );
  return (
    <div data-adding className={attachmentsCss.adding}>
      <Button
        id={id}
        variant="text"
        aria-label={`${words}, ${field.label}`}
        aria-describedby={describedBy}
        aria-invalid={invalid || undefined}
        onClick={() => picker.current?.click()}
        onBlur={onLeft}
      >
        {words}
      </Button>
      <Button variant="text" className={attachmentsCss.photo} onClick={() => camera.current?.click()}>
        {say('Take a photo')}
      </Button>
      <span className={clsx(textCss.faded, attachmentsCss.advice)}>
        <span className={attachmentsCss.how}>{how}: </span>
        {limits}
      </span>
      {file(picker, false)}
      {file(camera, true)}
    </div>
  );
}

/** The files on their way, each with its progress, and those that did not get there with why. */
export function SendingItems({
  field,
  sending,
  retry,
  cancel,
}: { field: PreparedField } & ReturnType<typeof useSending>) {
  return sending.map((one) => (
    <li key={one.key} className={one.trouble ? attachmentsCss.trouble : undefined}>
      <span className={attachmentsCss.name}>{one.trouble ?? one.file.name}</span>
      {one.trouble === undefined && (
        <ProgressBar share={one.share} label={say('{file}, sent', { file: one.file.name })} />
      )}
      {mayRetry(one, field.field.settings as AttachmentSettings) && (
        <Button variant="text" onClick={() => retry(one)}>
          {say('Try again')}
        </Button>
      )}
      <IconButton
        aria-label={
          one.trouble ? say('Remove {what}', { what: one.file.name }) : say('Cancel {what}', { what: one.file.name })
        }
        onClick={() => cancel(one.key)}
      >
        <CloseIcon />
      </IconButton>
    </li>
  ));
}
