import { say } from '@fiche/core/languages';
import CloseIcon from '@mui/icons-material/Close';
import IconButton from '@mui/material/IconButton';
import Popover from '@mui/material/Popover';
import { clsx } from 'clsx';
import { Fragment, type ReactNode, useRef, useState } from 'react';
import { FieldInput } from './FieldInput.tsx';
import pickerCss from './picker.module.css';
import { SearchList, type SlotOption } from './SearchList.tsx';
import sentenceCss from './sentence.module.css';

/** A place in a sentence that can be set where it stands. */
export interface Slot {
  readonly key: string;
  /** What is set here, for a screen reader: "column of Berths". */
  readonly label: string;
  /** Which side of a comparison it is on; said by colour, line and word. */
  readonly side?: 'form' | 'choices';
  readonly shown: string;
  /** Nothing is set here: it reads as the rest of the sentence does, and can be set. */
  readonly quiet?: boolean;
  /** Its picker opens by itself: the next slot to fill. */
  readonly open?: boolean;
  readonly pick:
    | {
        readonly kind: 'options';
        readonly options: readonly SlotOption[];
        readonly current?: string;
        /** Further options for the text typed so far: a value that can be written, records that are called so. */
        typed?(text: string): readonly SlotOption[] | Promise<readonly SlotOption[]>;
      }
    | { readonly kind: 'text'; readonly current: string; readonly hint?: string }
    /** Does something at once. */
    | { readonly kind: 'act'; run(): void }
    /** An editor of its own, which says itself when it is done. */
    | { readonly kind: 'editor'; edit(done: () => void): ReactNode };
  onSet(value: string): void;
}

/** Words and slots, in order. */
export type Phrase = readonly (string | Slot)[];

/** Logic is read and set as a plain sentence whose slots open their picker in place; `end` are the acts beside it. */
export function Sentence({ parts, indent = 0, end }: { parts: Phrase; indent?: number; end?: ReactNode }) {
  return (
    <p
      className={clsx(sentenceCss.sentence, end && sentenceCss.withEnd)}
      style={indent > 0 ? { paddingLeft: indent * 16 } : undefined}
    >
      <span>
        {parts.map((part, n) => (
          <Fragment key={typeof part === 'string' ? n : part.key}>
            {typeof part === 'string' ? part : <SlotButton slot={part} />}
          </Fragment>
        ))}
      </span>
      {end}
    </p>
  );
}

/** Removes a sentence, or one of its conditions: a × beside it. `what` is its name for screen readers. */
export function RemoveSentence({ what, onRemove }: { what: string; onRemove(): void }) {
  return (
    <IconButton className={sentenceCss.remove} aria-label={say('Remove {what}', { what })} onClick={onRemove}>
      <CloseIcon />
    </IconButton>
  );
}

function SlotButton({ slot }: { slot: Slot }) {
  const button = useRef<HTMLButtonElement>(null);
  const { pick } = slot;
  const [open, setOpen] = useState(slot.open === true);
  const close = () => setOpen(false);
  const set = (value: string) => {
    close();
    slot.onSet(value);
  };
  return (
    <>
      <button
        ref={button}
        type="button"
        className={clsx(
          sentenceCss.slot,
          slot.side === 'choices' && sentenceCss.choicesSide,
          slot.quiet && sentenceCss.quiet,
        )}
        aria-haspopup={pick.kind === 'act' ? undefined : 'dialog'}
        aria-label={`${slot.label}: ${slot.shown}`}
        onClick={() => (pick.kind === 'act' ? pick.run() : setOpen(true))}
      >
        {slot.shown}
      </button>
      <Popover
        open={open}
        anchorEl={() => button.current}
        onClose={close}
        anchorOrigin={{ vertical: 'bottom', horizontal: 'left' }}
        transitionDuration={0}
        slotProps={{ paper: { role: 'dialog', 'aria-label': slot.label } }}
      >
        {pick.kind === 'editor' ? (
          pick.edit(close)
        ) : pick.kind === 'options' ? (
          <div className={pickerCss.picker}>
            <SearchList {...pick} label={slot.label} onPick={set} />
          </div>
        ) : pick.kind === 'text' ? (
          <TextPicker current={pick.current} hint={pick.hint} label={slot.label} onSet={set} />
        ) : null}
      </Popover>
    </>
  );
}

function TextPicker({
  current,
  hint,
  label,
  onSet,
}: {
  current: string;
  hint?: string;
  label: string;
  onSet(value: string): void;
}) {
  const [text, setText] = useState(current);
  return (
    <form
      className={pickerCss.picker}
      onSubmit={(event) => {
        event.preventDefault();
        onSet(text);
      }}
    >
      <FieldInput autoFocus aria-label={label} value={text} onChange={(event) => setText(event.target.value)} />
      <div className={pickerCss.hint}>{hint ?? say('Enter applies it, Esc leaves it as it was.')}</div>
    </form>
  );
}
