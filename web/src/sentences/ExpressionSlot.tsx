import { say } from '@fiche/core/languages';
import CloseIcon from '@mui/icons-material/Close';
import Button from '@mui/material/Button';
import IconButton from '@mui/material/IconButton';
import Popover, { type PopoverActions } from '@mui/material/Popover';
import { useRef, useState } from 'react';
import { sentenceCss, textCss } from '../parts/index.ts';
import { ExpressionEditor, type ExpressionEditorProps } from './ExpressionEditor.tsx';

interface ExpressionSlotProps extends Omit<ExpressionEditorProps, 'current' | 'onSet' | 'onClose'> {
  /** The formula; null while there is none. */
  readonly source: string | null;
  /** The words of the button that writes the first one. */
  readonly addLabel: string;
  /** Takes the new formula, or null when it was removed. */
  onSet(source: string | null): void;
}

/** A formula that opens its editor in place, with its own ×; without one, the button that adds it. */
export function ExpressionSlot({ source, addLabel, onSet, ...editor }: ExpressionSlotProps) {
  const button = useRef<HTMLButtonElement>(null);
  const [open, setOpen] = useState(false);
  const placing = useRef<PopoverActions>(null);
  return (
    <p className={sentenceCss.sentence}>
      {source === null ? (
        <Button ref={button} variant="text" aria-haspopup="dialog" onClick={() => setOpen(true)}>
          {addLabel}
        </Button>
      ) : (
        <>
          ={' '}
          <Button
            ref={button}
            variant="text"
            className={textCss.mono}
            aria-haspopup="dialog"
            aria-label={`${editor.label}: ${source}`}
            onClick={() => setOpen(true)}
          >
            {source}
          </Button>
          <IconButton aria-label={say('Remove: {label}', { label: editor.label })} onClick={() => onSet(null)}>
            <CloseIcon />
          </IconButton>
        </>
      )}
      <Popover
        open={open}
        action={placing}
        anchorEl={() => button.current}
        onClose={() => setOpen(false)}
        anchorOrigin={{ vertical: 'bottom', horizontal: 'left' }}
        transitionDuration={0}
        slotProps={{ paper: { role: 'dialog', 'aria-label': editor.label } }}
      >
        <div ref={(box) => watchSize(box, () => placing.current?.updatePosition())}>
          <ExpressionEditor
            {...editor}
            current={source ?? ''}
            onSet={(next) => onSet(next)}
            onClose={() => setOpen(false)}
          />
        </div>
      </Popover>
    </p>
  );
}

/** Calls `changed` when the size of `box` changes: an editor that loads late must not grow out of the window. */
function watchSize(box: HTMLElement | null, changed: () => void): (() => void) | undefined {
  if (!box) return undefined;
  const observer = new ResizeObserver(changed);
  observer.observe(box);
  return () => observer.disconnect();
}
