/** What the values of a column are, so that a format writes numbers as numbers and days as days. */
export type Holds = 'text' | 'number' | 'yesNo' | 'date' | 'time' | 'dateTime' | 'list';

/** A column of a file. */
export interface FileColumn {
  /** What programs call it: a name of letters, digits, `_` and `.`, once in a file. */
  readonly key: string;
  /** What people call it. */
  readonly label: string;
  readonly holds: Holds;
  /** How many decimal places its numbers are shown with, where a format shows numbers. */
  readonly places?: number | undefined;
}

/** A value: dates as `2026-08-17`, date-times as `2026-08-17T15:30` in the time of the office; lists are not empty. */
export type FileCell = string | number | boolean | null | readonly (string | number)[];

/** One record of a file. */
export interface FileRow {
  readonly id: number;
  readonly title: string;
  /** When it was last changed, as ISO 8601 in UTC. */
  readonly changedAt: string;
  readonly cells: readonly FileCell[];
}

/** What is known of a file before its rows. */
export interface FileHead {
  /** What its rows are, such as *Stays*. */
  readonly title: string;
  readonly columns: readonly FileColumn[];
  /** For a calendar: in which column a record begins and ends, by place. */
  readonly period?: { readonly begins: number; readonly ends: number | null } | undefined;
  /** Where a record is opened; undefined where nobody knows the address of the office. */
  readonly addressOf?: ((id: number) => string) | undefined;
}

/** An open format in which records are written. */
export interface FileFormat {
  /** The content type (RFC 6838). */
  readonly type: string;
  readonly ending: string;
  /** Writes a file row by row in little memory; `pages` gives the rows in parts. */
  write(head: FileHead, pages: AsyncIterable<readonly FileRow[]>): AsyncGenerator<string | Uint8Array>;
}
