import { type RefObject, useLayoutEffect, useRef, useState } from 'react';

/** The width and the height of an element as it is drawn, in whole CSS px; 0 until they are known. */
export function useSize<E extends HTMLElement>(): [
  RefObject<E | null>,
  { readonly width: number; readonly height: number },
] {
  const element = useRef<E>(null);
  const [size, setSize] = useState({ width: 0, height: 0 });
  useLayoutEffect(() => {
    const { current } = element;
    if (!current) return;
    const read = (): void =>
      setSize((before) => {
        const [width, height] = [Math.floor(current.clientWidth), Math.floor(current.clientHeight)];
        return before.width === width && before.height === height ? before : { width, height };
      });
    read();
    const observer = new ResizeObserver(read);
    observer.observe(current);
    return () => observer.disconnect();
  }, []);
  return [element, size];
}
