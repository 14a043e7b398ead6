const isRadio = (one: Element): one is HTMLInputElement => one instanceof HTMLInputElement && one.type === 'radio';

/** The stop of a group of radios is its checked one, or else its first. */
function isStop(one: HTMLElement, all: readonly HTMLElement[]): boolean {
  if (!isRadio(one)) return true;
  const group = all.filter((other): other is HTMLInputElement => isRadio(other) && other.name === one.name);
  return one === (group.find((other) => other.checked) ?? group[0]);
}

/**
 * Moves the focus to the next field of the card, as Enter does: past fields that something else fills, which Tab still
 * visits. A group of radios is one field. After the last field, to Save. Returns false where there is nothing after.
 */
export function moveOn(from: Element): boolean {
  const card = from.closest('[data-card]');
  if (!card) return false;
  const all = [
    ...card.querySelectorAll<HTMLElement>(
      'input, textarea:not([aria-hidden]), [data-files] [data-adding] button, [data-save]',
    ),
  ];
  const next = all
    .slice(all.indexOf(from as HTMLElement) + 1)
    .find(
      (one) =>
        one.tabIndex >= 0 &&
        !one.matches(':disabled, [hidden]') &&
        !one.closest('[data-filled]') &&
        isStop(one, all) &&
        !(isRadio(one) && isRadio(from) && one.name === from.name),
    );
  if (!next) return false;
  next.focus();
  if (next instanceof HTMLInputElement && next.type !== 'radio') next.select();
  return true;
}
