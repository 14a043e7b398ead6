import type { Problem, Value, Values } from '../fields/index.ts';
import type { Origin } from '../fills/index.ts';
import type { PreparedForm } from '../forms/index.ts';
import type { Choice, Facts } from '../narrowing/index.ts';

/** A linked record as a form knows it: its title, and the columns that the form reads. */
export interface LinkedRecord {
  readonly title: string;
  readonly facts: Facts;
  /** For a field of several links: the title of each record, by its id. */
  readonly titles?: Readonly<Record<string, string>>;
}

/** A record found by a lookup. */
export interface FoundRecord extends LinkedRecord {
  readonly id: number;
}

/** The record that an entry changes. */
export interface OpenedRecord {
  readonly id: number;
  readonly version: number;
  readonly values: Values;
  readonly linked: Readonly<Record<string, LinkedRecord>>;
  /** Where its filled values came from. */
  readonly origins?: Readonly<Record<string, Origin>>;
}

/** The record that encloses this one, while its lines are entered. */
export interface Enclosing {
  readonly values: Values;
  /** Its values as they are saved; undefined for a new one, and where nobody asks what changed. */
  readonly before?: Values;
  readonly linked: Readonly<Record<string, LinkedRecord>>;
}

/** What an entry begins with besides the form: who enters, and the civil date and time that `today` and `now` mean. */
export interface Opening {
  readonly account: string | null;
  readonly now: string;
  readonly record: OpenedRecord | null;
  readonly enclosing?: Enclosing;
  /** The lines that the record has, by subform, in their order. */
  readonly lines?: Readonly<Record<string, readonly OpenedRecord[]>>;
}

/** Which line of which subform. */
export interface LineAddress {
  readonly subform: string;
  readonly key: string;
}

/** One line of a subform: an entry of its own inside the enclosing one. */
export interface SubformLine {
  /** Names the line while the entry is open. */
  readonly key: string;
  /** Taken out of use with the next save. */
  readonly archived: boolean;
  readonly state: EntryState;
}

export type SubformLines = Readonly<Record<string, readonly SubformLine[]>>;

/** A value that a fill would put where another stands. */
export interface Offer {
  readonly value: Value;
  readonly linked?: LinkedRecord;
  readonly origin: Origin;
}

/** What somebody else saved in a field that was changed here, too. */
export interface Conflict {
  readonly value: Value;
  /** The title of the record, where the value is a link. */
  readonly title: string | null;
  readonly by: string;
}

export interface ChoiceList {
  readonly choices: readonly Choice[];
  readonly more: boolean;
}

/** The running form. Plain data: the reducer makes a new one for each event. */
/** Text that is no value, or not yet: what a person typed, and what is wrong with it. */
export interface Unparsed {
  readonly text: string;
  readonly message: string;
  /** The first choice that the text finds will do: it was typed into a dropdown, which shows what it finds. */
  readonly near?: true;
}

export interface EntryState {
  readonly form: PreparedForm;
  readonly opening: Opening;
  /** The values as the entry began with them: blank or default, or the record's. */
  readonly original: Values;
  readonly values: Values;
  /** The values on which narrowing and fills were last settled; what is being typed is ahead of them. */
  readonly propagated: Values;
  /** Text that could not be read as a value, kept as it was typed. */
  readonly unparsed: Readonly<Record<string, Unparsed>>;
  readonly linked: Readonly<Record<string, LinkedRecord>>;
  readonly origins: Readonly<Record<string, Origin>>;
  /** Fields that are not shown now. */
  readonly hidden: Readonly<Record<string, true>>;
  /** Fields that a condition requires now. */
  readonly conditionallyRequired: Readonly<Record<string, true>>;
  /** Places of the rules, in the form’s list, that the entry breaks now. */
  readonly broken: Readonly<Record<number, true>>;
  /** Why a person lets an entry through that an ask rule is against, by rule. */
  readonly reasons: Readonly<Record<string, string>>;
  /** Values that a fill offers beside one that is there: a person decides. */
  readonly offers: Readonly<Record<string, Offer>>;
  /** Fields that somebody else has changed, too: a person decides. */
  readonly conflicts: Readonly<Record<string, Conflict>>;
  /** The records that one key found, where it found several: a person chooses. */
  readonly ambiguousMatches: Readonly<Record<string, readonly FoundRecord[]>>;
  /** Which of several records was chosen for a key. */
  readonly picked: Readonly<Record<string, number>>;
  /** What Fiche did to a field by itself, in words. */
  readonly notices: Readonly<Record<string, string>>;
  /** What a lookup by key said: nothing found, whether that refuses the save, and whether a record can be added here. */
  readonly lookupFailures: Readonly<Record<string, { message: string; stops: boolean; adds?: true }>>;
  readonly refusals: readonly Problem[];
  readonly touched: Readonly<Record<string, true>>;
  /** In a submission: the fields whose value was sent, which fills leave alone. */
  readonly submitted: Readonly<Record<string, true>>;
  readonly choices: Readonly<Record<string, ChoiceList>>;
  /** The lines of each subform; the last one may be blank, ready to be typed in. */
  readonly lines: SubformLines;
  /** The lines as they were before each of the last steps, for undo. */
  readonly past: readonly SubformLines[];
  readonly linesMade: number;
  /** The number of the one request whose answer each place still waits for, by `kind:field`. */
  readonly waiting: Readonly<Record<string, number>>;
  readonly requestsMade: number;
  /** `settling` waits for lookups before the save is sent. */
  readonly phase: 'open' | 'settling' | 'saving' | 'submitted';
}

/**
 * Something only the world can answer; the answer comes back as an event with the same number and field, given to the
 * same line where one asked.
 */
export type Request = Question & { readonly line?: LineAddress };

export type Question =
  | {
      readonly kind: 'choices';
      readonly number: number;
      readonly field: string;
      readonly values: Values;
      readonly search: string;
    }
  | { readonly kind: 'lookup'; readonly number: number; readonly field: string; readonly id: number }
  | { readonly kind: 'keyLookup'; readonly number: number; readonly field: string; readonly key: Value }
  /** The columns of a linked record that the form reads, without filling anything from it. */
  | { readonly kind: 'facts'; readonly number: number; readonly field: string; readonly id: number }
  | { readonly kind: 'check'; readonly number: number; readonly field: string; readonly values: Values }
  /** Whether exactly one choice is left. */
  | { readonly kind: 'only'; readonly number: number; readonly field: string; readonly values: Values }
  /** The choice that a text means: by its title, as it stands in a pasted cell; with `near`, else the first it finds. */
  | {
      readonly kind: 'match';
      readonly number: number;
      readonly field: string;
      readonly text: string;
      readonly near: boolean;
      readonly values: Values;
    }
  | ({ readonly kind: 'save'; readonly number: number } & Submission);

/** A line as a save sends it. One that was not touched is named only, for its place. */
export interface SentLine {
  readonly key: string;
  readonly id?: number;
  readonly version?: number;
  readonly archived?: true;
  readonly values?: Values;
  readonly reasons?: Readonly<Record<string, string>>;
  readonly picked?: Readonly<Record<string, number>>;
}

/** What a save sends. */
export interface Submission {
  readonly values: Values;
  /** Reasons given to ask rules that the entry breaks, by rule. */
  readonly reasons: Readonly<Record<string, string>>;
  readonly picked: Readonly<Record<string, number>>;
  /** By subform, in their order. */
  readonly lines: Readonly<Record<string, readonly SentLine[]>>;
}

export type EntryEvent =
  /** A person chose or set a value; for a link, with the record as the list showed it. */
  | {
      readonly type: 'changed';
      readonly field: string;
      readonly value: Value;
      readonly linked?: LinkedRecord;
      /** Not out of the field’s own list: whether it applies here has to be asked. */
      readonly unchosen?: true;
    }
  /** A person is typing in a field. */
  | { readonly type: 'typed'; readonly field: string; readonly text: string }
  | { readonly type: 'left'; readonly field: string }
  /** A dropdown wants choices, for the text typed so far. */
  | { readonly type: 'opened'; readonly field: string; readonly search: string }
  | {
      readonly type: 'choicesArrived';
      readonly number: number;
      readonly field: string;
      readonly choices: readonly Choice[];
      readonly more: boolean;
    }
  | {
      readonly type: 'found';
      readonly number: number;
      readonly field: string;
      readonly kind: 'lookup' | 'keyLookup' | 'facts';
      readonly found: readonly FoundRecord[];
    }
  | { readonly type: 'checked'; readonly number: number; readonly field: string; readonly fits: boolean }
  /** The one choice that is left for a field, or none when there are more or fewer. */
  | { readonly type: 'onlyChoice'; readonly number: number; readonly field: string; readonly choice: Choice | null }
  /** A person takes or leaves what a fill offers. */
  | { readonly type: 'offerAnswered'; readonly field: string; readonly take: boolean }
  /** A person chose one of several records that a key found. */
  | { readonly type: 'matchPicked'; readonly field: string; readonly id: number }
  /** A person wants the filled value again, as its record says it today. */
  | { readonly type: 'refilled'; readonly field: string }
  /** A person says why an entry is to be let through. */
  | { readonly type: 'reasonGiven'; readonly rule: string; readonly reason: string }
  /** Text typed into a dropdown that no choice answers to. */
  | { readonly type: 'unmatched'; readonly field: string; readonly text: string }
  /**
   * A cell was pasted: its text is read, or looked for among the choices. With `near` it was typed into a dropdown that
   * was left before its choices were there.
   */
  | { readonly type: 'textMatched'; readonly field: string; readonly text: string; readonly near?: true }
  /** The choice that a text means; null when there is none. */
  | { readonly type: 'matched'; readonly number: number; readonly field: string; readonly choice: Choice | null }
  /** Something happens in a line. */
  | { readonly type: 'line'; readonly line: LineAddress; readonly event: EntryEvent }
  /** A value begins a line of its own, in the blank one: a file of many, above all. */
  | { readonly type: 'lineBegun'; readonly subform: string; readonly field: string; readonly value: Value }
  | { readonly type: 'lineMoved'; readonly line: LineAddress; readonly to: number }
  | { readonly type: 'lineArchived'; readonly line: LineAddress }
  | { readonly type: 'copiedDown'; readonly line: LineAddress; readonly field: string }
  | {
      readonly type: 'pasted';
      readonly line: LineAddress;
      readonly field: string;
      readonly rows: readonly (readonly string[])[];
    }
  | { readonly type: 'linesUndone' }
  /** What is awaited got lost on the way back to an earlier state: it is asked anew. */
  | { readonly type: 'requestsResent' }
  /** A key is looked up again: what it names may be there now. */
  | { readonly type: 'lookUpAgain'; readonly field: string }
  /** The record, or this line of it, was saved meanwhile: by somebody else or, without a name, from here. */
  | {
      readonly type: 'remoteSaved';
      readonly record: OpenedRecord;
      readonly lines?: Readonly<Record<string, readonly OpenedRecord[]>>;
      readonly by: string | null;
    }
  /** A person decides between their value of a field and somebody else’s. */
  | { readonly type: 'conflictDecided'; readonly field: string; readonly theirs: boolean }
  /** A blank line becomes a line: its defaults settle now. */
  | { readonly type: 'lineStarted' }
  /** What a line reads of the record around it has changed. */
  | { readonly type: 'enclosingChanged'; readonly enclosing: Enclosing; readonly moved: readonly string[] }
  /** Save was pressed on the record around a line. */
  | { readonly type: 'allTouched' }
  /** A request that got no answer: the connection was lost. */
  | { readonly type: 'failed'; readonly number: number; readonly field: string; readonly kind: Request['kind'] }
  | { readonly type: 'savePressed' }
  | { readonly type: 'refused'; readonly problems: readonly Problem[] }
  | { readonly type: 'reset' };

export interface Step {
  readonly state: EntryState;
  readonly requests: readonly Request[];
}
