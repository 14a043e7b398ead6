import { useHotkeys } from 'react-hotkeys-hook';
import { SHORTCUTS, type ShortcutId } from './shortcuts.ts';

/**
 * Calls `run` when the shortcut is pressed anywhere on the page, also while typing, unless `run` is left out.
 * `whileTyping: false` leaves the keys to inputs; `preventDefault` says whether the browser’s own answer is dropped.
 */
export function useShortcut(
  id: ShortcutId,
  run: ((event: KeyboardEvent) => void) | undefined,
  {
    whileTyping = true,
    preventDefault = true,
  }: { whileTyping?: boolean; preventDefault?: boolean | ((event: KeyboardEvent) => boolean) } = {},
): void {
  useHotkeys(SHORTCUTS[id].keys, (event) => run?.(event), {
    useKey: true,
    enabled: run !== undefined,
    enableOnFormTags: whileTyping,
    enableOnContentEditable: whileTyping,
    preventDefault,
  });
}
