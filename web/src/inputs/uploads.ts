import { createContext, useSyncExternalStore } from 'react';

/** Where files of the form around are sent, and whether whoever fills it may look at files that are stored. */
interface UploadPlace {
  readonly base: string;
  readonly formVersion?: number | null;
  readonly anonymous: boolean;
}

export const UploadContext = createContext<UploadPlace | undefined>(undefined);

/** Files that are on their way, of all fields of the page: a save waits for them. */
let onTheirWay = 0;
const listeners = new Set<() => void>();

export function countUpload(step: 1 | -1): void {
  onTheirWay += step;
  for (const one of listeners) one();
}

export const uploadsNow = (): number => onTheirWay;

export const useUploads = (): number =>
  useSyncExternalStore((then) => {
    listeners.add(then);
    return () => listeners.delete(then);
  }, uploadsNow);

/** What was sent from this page, to be shown to those who may not fetch it: object URLs by token. */
export const sentPictures = new Map<string, string>();
