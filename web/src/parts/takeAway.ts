/** Gives a text, or the bytes of a file, to the browser as a file to keep. `type` is its media type. */
export function takeAway(name: string, type: string, content: string | Blob): void {
  const url = URL.createObjectURL(new Blob([content], { type }));
  const link = document.createElement('a');
  link.href = url;
  link.download = name;
  link.click();
  // The browser begins to read it after this.
  setTimeout(() => URL.revokeObjectURL(url), 10_000);
}
