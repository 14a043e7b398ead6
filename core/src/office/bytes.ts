import { formatNumber } from './writing.ts';

const UNITS = ['B', 'kB', 'MB', 'GB', 'TB'];

/** A length in bytes as people read it, in steps of 1,000 (SI): `512 B`, `7.5 MB`, `120 GB`. */
export function formatBytes(bytes: number): string {
  const step = bytes < 1 ? 0 : Math.min(UNITS.length - 1, Math.floor(Math.log10(bytes) / 3));
  const value = bytes / 1_000 ** step;
  return `${formatNumber(value, step > 0 && value < 100 ? 1 : 0)} ${UNITS[step]}`;
}
