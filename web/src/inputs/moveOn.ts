/**
 * Goes on to the next input of the card, as Enter does: past those that something else fills, which Tab still visits.
 * After the last one, to Save.
 */
export function moveOn(from: Element): boolean {
  const card = from.closest('.card');
  if (!card) return false;
  const all = [
    ...card.querySelectorAll<HTMLElement>('input, textarea, .attachments .adding button, .card-foot button.main'),
  ];
  const next = all
    .slice(all.indexOf(from as HTMLElement) + 1)
    .find((one) => one.tabIndex >= 0 && !one.matches(':disabled, [hidden]') && !one.closest('[data-filled]'));
  if (!next) return false;
  next.focus();
  if (next instanceof HTMLInputElement && next.type !== 'radio') next.select();
  return true;
}
