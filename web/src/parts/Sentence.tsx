import CloseIcon from '@mui/icons-material/Close';
import IconButton from '@mui/material/IconButton';
import Popover from '@mui/material/Popover';
import { Fragment, type KeyboardEvent, type ReactNode, useEffect, useId, useRef, useState } from 'react';

export interface SlotOption {
  readonly value: string;
  readonly label: string;
  readonly detail?: string;
}

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
    <p className={end ? 'sentence with-end' : 'sentence'} style={indent > 0 ? { paddingLeft: indent * 16 } : undefined}>
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
    <IconButton className="remove-sentence" aria-label={`Remove ${what}`} onClick={onRemove}>
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
        className={`slot ${slot.side ?? 'plain'}-side${slot.quiet ? ' quiet' : ''}`}
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
          <OptionPicker slot={slot} pick={pick} onSet={set} />
        ) : pick.kind === 'text' ? (
          <TextPicker current={pick.current} hint={pick.hint} label={slot.label} onSet={set} />
        ) : null}
      </Popover>
    </>
  );
}

function OptionPicker({
  slot,
  pick: { options, current, typed },
  onSet,
}: {
  slot: Slot;
  pick: Extract<Slot['pick'], { kind: 'options' }>;
  onSet(value: string): void;
}) {
  const [search, setSearch] = useState('');
  const [further, setFurther] = useState<readonly SlotOption[]>([]);
  // The options are asked for when the text changes, not when the sentence around it is drawn anew.
  // biome-ignore lint/correctness/useExhaustiveDependencies: see above.
  useEffect(() => {
    let stale = false;
    void Promise.resolve(typed?.(search.trim()) ?? []).then((found) => !stale && setFurther(found));
    return () => {
      stale = true;
    };
  }, [search]);
  const [active, setActive] = useState(
    Math.max(
      0,
      options.findIndex((one) => one.value === current),
    ),
  );
  const list = useId();
  const words = search.trim().toLowerCase().split(/\s+/);
  const shown = [
    ...options.filter((one) => words.every((word) => `${one.label} ${one.detail ?? ''}`.toLowerCase().includes(word))),
    ...further,
  ];
  const at = Math.min(active, shown.length - 1);
  const onKeyDown = (event: KeyboardEvent) => {
    if (event.key === 'ArrowDown') setActive(Math.min(at + 1, shown.length - 1));
    else if (event.key === 'ArrowUp') setActive(Math.max(at - 1, 0));
    else if (event.key === 'Enter' && shown[at]) onSet(shown[at].value);
    else return;
    event.preventDefault();
  };
  return (
    <div className="picker">
      <input
        autoFocus
        role="combobox"
        aria-expanded="true"
        aria-controls={list}
        aria-label={slot.label}
        aria-activedescendant={shown[at] ? `${list}-${at}` : undefined}
        placeholder={typed ? 'Type to find, or write a value' : 'Type to find'}
        value={search}
        onKeyDown={onKeyDown}
        onChange={(event) => {
          setSearch(event.target.value);
          setActive(0);
        }}
      />
      <ul id={list} role="listbox" aria-label={slot.label}>
        {shown.map((one, n) => (
          <li
            key={one.value}
            id={`${list}-${n}`}
            role="option"
            aria-selected={one.value === current}
            className={n === at ? 'active' : ''}
            onMouseEnter={() => setActive(n)}
            onClick={() => onSet(one.value)}
          >
            {one.label}
            {one.detail && <small>{one.detail}</small>}
          </li>
        ))}
      </ul>
      {shown.length === 0 && <div className="picker-hint">No match.</div>}
    </div>
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
      className="picker"
      onSubmit={(event) => {
        event.preventDefault();
        onSet(text);
      }}
    >
      <input autoFocus aria-label={label} value={text} onChange={(event) => setText(event.target.value)} />
      <div className="picker-hint">{hint ?? 'Enter applies it, Esc leaves it as it was.'}</div>
    </form>
  );
}
