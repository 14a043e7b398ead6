/** A record that was open lately, as *Home* lists it. */
interface RecentRecord {
  /** The address of its card, within the cabinet: `tables/gannet_stays/12`. */
  readonly path: string;
  readonly title: string;
  /** The form or table through which it was open. */
  readonly through: string;
  readonly at: string;
}

const MOST = 8;
const keyOf = (login: string, cabinet: string): string => `fiche.recent.${login}.${cabinet}`;

/** The records that an account had open lately in this browser, the latest first. */
export function recentRecords(login: string, cabinet: string): readonly RecentRecord[] {
  try {
    return JSON.parse(localStorage.getItem(keyOf(login, cabinet)) ?? '[]') as RecentRecord[];
  } catch {
    return [];
  }
}

/** Puts a record at the top of those that were open lately. */
export function rememberRecord(login: string, cabinet: string, record: RecentRecord): void {
  const others = recentRecords(login, cabinet).filter((one) => one.path !== record.path);
  try {
    localStorage.setItem(keyOf(login, cabinet), JSON.stringify([record, ...others].slice(0, MOST)));
  } catch {
    // The browser’s store is full or closed: nothing is remembered.
  }
}
