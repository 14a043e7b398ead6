let pressed = false;
if (typeof window !== 'undefined') {
  window.addEventListener(
    'pointerdown',
    () => {
      pressed = true;
    },
    true,
  );
  for (const end of ['pointerup', 'pointercancel'])
    window.addEventListener(
      end,
      () => {
        pressed = false;
      },
      true,
    );
}

/**
 * Does something once the mouse button or finger is up again, or at once while none is down. Leaving a field can bring a
 * message under it; were that shown while a person presses something further down, it would move away from under the
 * pointer, and the press would be lost.
 */
export function afterPointer(work: () => void): void {
  if (!pressed) {
    work();
    return;
  }
  const done = (): void => {
    for (const end of ['pointerup', 'pointercancel']) window.removeEventListener(end, done, true);
    requestAnimationFrame(work);
  };
  for (const end of ['pointerup', 'pointercancel']) window.addEventListener(end, done, true);
}
