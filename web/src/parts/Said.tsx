import { createContext, type ReactNode, useCallback, useContext, useEffect, useMemo, useState } from 'react';

interface Message {
  readonly text: string;
  readonly undo?: () => void;
  /** Something else to do about it: a link beside the words. */
  readonly open?: Opens;
}

interface Opens {
  readonly label: string;
  go(): void;
}

const Say = createContext<(text: string, undo?: () => void, open?: Opens) => void>(() => undefined);

/** Says shortly what was done, with Undo where there is one. */
export const useSay = () => useContext(Say);

const SHOWN_MS = 9_000;

export function SaidProvider({ children }: { children: ReactNode }) {
  const [message, setMessage] = useState<Message>();
  const say = useCallback((text: string, undo?: () => void, open?: Opens) => setMessage({ text, undo, open }), []);
  useEffect(() => {
    if (!message) return;
    const timer = setTimeout(() => setMessage(undefined), SHOWN_MS);
    return () => clearTimeout(timer);
  }, [message]);
  const undo = useMemo(() => message?.undo, [message]);
  return (
    <Say.Provider value={say}>
      {children}
      <div role="status">
        {message && (
          <div className="said">
            {message.text}
            {message.open && (
              <button
                type="button"
                className="link"
                onClick={() => {
                  setMessage(undefined);
                  message.open?.go();
                }}
              >
                {message.open.label}
              </button>
            )}
            {undo && (
              <button
                type="button"
                className="link"
                onClick={() => {
                  setMessage(undefined);
                  undo();
                }}
              >
                Undo
              </button>
            )}
          </div>
        )}
      </div>
    </Say.Provider>
  );
}
