import { say } from '@fiche/core/languages';
import CloseIcon from '@mui/icons-material/Close';
import PinIcon from '@mui/icons-material/PushPin';
import UnpinIcon from '@mui/icons-material/PushPinOutlined';
import IconButton from '@mui/material/IconButton';
import Paper from '@mui/material/Paper';
import Tooltip from '@mui/material/Tooltip';
import { clsx } from 'clsx';
import { createContext, type KeyboardEvent, type ReactNode, useContext, useEffect, useRef, useState } from 'react';
import sheetCss from './sheet.module.css';

const PINNED = 'fiche.sheetsPinned';

/** True when sheets stand beside the page; false when they lie over it. Kept in this browser. */
const readPinned = (): boolean => localStorage.getItem(PINNED) !== 'no';

/** True where sheets always lie over the page: within a pane there is no room beside. */
export const SheetsOver = createContext(false);

/**
 * A pane at the right of the page with a heading. It takes the focus when it opens and gives it back when it closes
 * (Esc or its button). Pinned, it stands beside the page; otherwise it lies over it.
 */
export function Sheet({
  title,
  label = title,
  over: always = false,
  children,
  onClose,
}: {
  title: string;
  /** Its name for screen readers, where that says more than the heading. */
  label?: string;
  /** True for a sheet that always lies over the page. */
  over?: boolean;
  children: ReactNode;
  onClose(): void;
}) {
  const [pinned, setPinned] = useState(readPinned);
  const within = useContext(SheetsOver);
  const over = always || within;
  const heading = useRef<HTMLHeadingElement>(null);
  const pane = useRef<HTMLElement>(null);
  useEffect(() => {
    const opener = document.activeElement;
    heading.current?.focus();
    return () => {
      const lost = document.activeElement === document.body || pane.current?.contains(document.activeElement);
      if (lost && opener instanceof HTMLElement) opener.focus();
    };
  }, []);
  const onKeyDown = (event: KeyboardEvent): void => {
    if (event.key !== 'Escape' || event.defaultPrevented) return;
    event.preventDefault();
    event.stopPropagation();
    onClose();
  };
  const pin = (): void => {
    localStorage.setItem(PINNED, pinned ? 'no' : 'yes');
    setPinned(!pinned);
  };
  const beside = pinned && !over;
  return (
    <Paper
      ref={pane}
      component="aside"
      square
      className={clsx(sheetCss.sheet, !beside && sheetCss.over)}
      data-sheet={beside ? 'beside' : 'over'}
      aria-label={label}
      onKeyDown={onKeyDown}
    >
      <div className={sheetCss.head}>
        <h2 ref={heading} tabIndex={-1}>
          {title}
        </h2>
        <span className={sheetCss.acts}>
          {!over && (
            <Tooltip title={pinned ? say('Let it lie over the page') : say('Pin it beside the page')}>
              <IconButton aria-label={say('Pinned beside the page')} aria-pressed={pinned} onClick={pin}>
                {pinned ? <PinIcon /> : <UnpinIcon />}
              </IconButton>
            </Tooltip>
          )}
          <Tooltip title={say('Close (Esc)')}>
            <IconButton aria-label={say('Close')} onClick={onClose}>
              <CloseIcon />
            </IconButton>
          </Tooltip>
        </span>
      </div>
      {children}
    </Paper>
  );
}
