/** What a thread is asked to unpack. */
export type Job =
  | { readonly kind: 'workbook'; readonly bytes: Uint8Array; readonly sheet: number }
  | { readonly kind: 'json'; readonly bytes: Uint8Array }
  /** `list` counts from 1. */
  | { readonly kind: 'xml'; readonly bytes: Uint8Array; readonly encoding: string; readonly list: number }
  /** `names` is a regular expression of ours for the files that are wanted. */
  | { readonly kind: 'archive'; readonly bytes: Uint8Array; readonly names: string };

/** What it answers with: rows in several parts, or the files of an archive. */
export type Unpacked =
  | { readonly kind: 'rows'; readonly rows: readonly unknown[] }
  | { readonly kind: 'files'; readonly files: Readonly<Record<string, Uint8Array>> };
