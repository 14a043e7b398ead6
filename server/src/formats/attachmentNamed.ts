/** The header that names a file to be saved (RFC 6266): plainly, and with all of its letters. */
export function attachmentNamed(name: string, ending: string): string {
  const plain =
    name
      .normalize('NFKD')
      .replace(/[^\w .-]/g, '')
      .trim() || 'fiche';
  return `attachment; filename="${plain}.${ending}"; filename*=UTF-8''${encodeURIComponent(`${name}.${ending}`)}`;
}
