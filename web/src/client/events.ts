/** How long, in ms, it takes at first and at most until a server that refused is asked again. */
const FIRST_WAIT = 1_000;
const LONGEST_WAIT = 30_000;

interface Listening {
  onMessage(text: string): void;
  /** Called whenever the server listens; `again` says that something may have been missed before. */
  onOpen?(again: boolean): void;
  /** Called when the server refuses, as it does where nobody is signed in any more. */
  onRefused?(): void;
}

/**
 * Listens to the events at an address (server-sent events) until the returned function is called. A browser comes again by
 * itself where a connection is lost, but not after a refusal, such as that of a server that is just being started: then this
 * does, after ever longer waits.
 */
export function listenAt(url: string, { onMessage, onOpen, onRefused }: Listening): () => void {
  let source: EventSource;
  let timer: ReturnType<typeof setTimeout> | undefined;
  let wait = FIRST_WAIT;
  let before = false;
  const open = (): void => {
    source = new EventSource(url);
    source.onmessage = ({ data }: MessageEvent<string>) => onMessage(data);
    source.onopen = () => {
      wait = FIRST_WAIT;
      onOpen?.(before);
      before = true;
    };
    source.onerror = () => {
      if (source.readyState !== EventSource.CLOSED) return;
      onRefused?.();
      timer = setTimeout(open, wait);
      wait = Math.min(2 * wait, LONGEST_WAIT);
    };
  };
  open();
  return () => {
    clearTimeout(timer);
    source.close();
  };
}
