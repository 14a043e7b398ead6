/**
 * One request of the story that the description of the interface tells, sent to a test office in the order of the story.
 * The first example of a route stands in the description.
 */
export interface Example {
  /** Method and address as in the contract. */
  readonly route: string;
  /** Values of the parameters in the address that are not those of `PLACES`. */
  readonly params?: Readonly<Record<string, string | number>>;
  readonly query?: Readonly<Record<string, string | number>>;
  readonly body?: unknown;
  /** A file that is sent in place of a body. */
  readonly file?: string;
  /** Who sends it, where it is not whoever builds: an account’s login, or nobody. */
  readonly by?: string;
  /** What later examples need of the answer, by the words that stand for it there, such as `<link>`. */
  readonly keeps?: Readonly<Record<string, string>>;
}

/** What parameters stand for where an example says nothing else. */
export const PLACES: Readonly<Record<string, string | number>> = {
  cabinet: 'quay',
  table: 'quay_stays',
  form: 'quay_check_in',
  slug: 'arrival',
  id: 1,
  position: 1,
};
