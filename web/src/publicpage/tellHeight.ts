/** Tells the site around a framed page how high the page is, now and whenever that changes. Not in a page of its own. */
export function tellHeight(root: HTMLElement): void {
  if (window.parent === window) return;
  document.documentElement.dataset.framed = '';
  const tell = (): void => {
    const height = Math.ceil(root.getBoundingClientRect().height);
    // The height of the page is no secret: any site that may frame it is told.
    window.parent.postMessage({ ficheHeight: height }, '*');
  };
  new ResizeObserver(tell).observe(root);
  tell();
}
