/** The header that names a file to be saved, or shown where the browser can (RFC 6266): plainly, and with all of its letters. */
export function attachmentNamed(name: string, ending: string, how: 'attachment' | 'inline' = 'attachment'): string {
  const plain =
    name
      .normalize('NFKD')
      .replace(/[^\w .-]/g, '')
      .trim() || 'fiche';
  return `${how}; filename="${plain}.${ending}"; filename*=UTF-8''${encodeURIComponent(`${name}.${ending}`)}`;
}
