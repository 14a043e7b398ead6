import { say } from '@fiche/core/languages';
import CloseIcon from '@mui/icons-material/Close';
import Button from '@mui/material/Button';
import IconButton from '@mui/material/IconButton';
import Snackbar from '@mui/material/Snackbar';
import SnackbarContent from '@mui/material/SnackbarContent';
import Stack from '@mui/material/Stack';
import { createContext, type ReactNode, useCallback, useContext, useEffect, useState } from 'react';
import noticesCss from './notices.module.css';

interface Notice {
  readonly key: number;
  readonly text: string;
  readonly acts: readonly Act[];
}

interface Act {
  readonly label: string;
  go(): void;
}

type Notify = (text: string, undo?: () => void, open?: Act) => void;

const NotifyContext = createContext<Notify>(() => undefined);

/** Says shortly what was done, with Undo or a link where there is one. */
export const useNotify = (): Notify => useContext(NotifyContext);

const SHOWN_MS = 9_000;
/** At most so many are shown at once; the oldest leaves first. */
const SHOWN_AT_ONCE = 3;
let lastKey = 0;

export function NoticesProvider({ children }: { children: ReactNode }) {
  const [notices, setNotices] = useState<readonly Notice[]>([]);
  const close = useCallback((key: number) => setNotices((all) => all.filter((one) => one.key !== key)), []);
  const notify = useCallback<Notify>((text, undo, open) => {
    lastKey += 1;
    const acts = [...(open ? [open] : []), ...(undo ? [{ label: say('Undo'), go: undo }] : [])];
    const notice = { key: lastKey, text, acts };
    // The same words again take the place of the earlier ones, unless something can still be done about those.
    setNotices((all) =>
      [...all.filter((one) => one.text !== text || one.acts.length > 0), notice].slice(-SHOWN_AT_ONCE),
    );
  }, []);
  return (
    <NotifyContext.Provider value={notify}>
      {children}
      <Snackbar open anchorOrigin={{ vertical: 'bottom', horizontal: 'center' }} className={noticesCss.notices}>
        <Stack role="status" spacing={1}>
          {notices.map((one) => (
            <NoticeBar key={one.key} notice={one} onClose={close} />
          ))}
        </Stack>
      </Snackbar>
    </NotifyContext.Provider>
  );
}

/** One message; its time stands still while the pointer or the focus is on it. */
function NoticeBar({ notice, onClose }: { notice: Notice; onClose(key: number): void }) {
  const [held, setHeld] = useState(false);
  useEffect(() => {
    if (held) return;
    const timer = setTimeout(() => onClose(notice.key), SHOWN_MS);
    return () => clearTimeout(timer);
  }, [held, notice.key, onClose]);
  return (
    <SnackbarContent
      role="presentation"
      message={notice.text}
      onMouseEnter={() => setHeld(true)}
      onMouseLeave={() => setHeld(false)}
      onFocus={() => setHeld(true)}
      onBlur={() => setHeld(false)}
      action={
        <>
          {notice.acts.map((act) => (
            <Button
              key={act.label}
              variant="text"
              onClick={() => {
                onClose(notice.key);
                act.go();
              }}
            >
              {act.label}
            </Button>
          ))}
          <IconButton aria-label={say('Close this message')} color="inherit" onClick={() => onClose(notice.key)}>
            <CloseIcon />
          </IconButton>
        </>
      }
    />
  );
}
