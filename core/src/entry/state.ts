import type { Problem, Value, Values } from '../fields/index.ts';
import type { Origin } from '../fills/index.ts';
import type { PreparedForm } from '../forms/index.ts';
import type { Choice, Facts } from '../narrowing/index.ts';
import type { FieldId, RecordId } from '../tables/index.ts';

/** A linked record as a form knows it: its title, and the columns that the form reads. */
export interface LinkedRecord {
  readonly title: string;
  readonly facts: Facts;
  /** For a field of several links: the title of each record, by its id. */
  readonly titles?: Readonly<Record<string, string>>;
}

/** A record found by a lookup. */
export interface FoundRecord extends LinkedRecord {
  readonly id: RecordId;
}

/** The record that an entry changes. */
export interface OpenedRecord {
  readonly id: RecordId;
  readonly version: number;
  readonly values: Values;
  readonly linked: Readonly<Record<string, LinkedRecord>>;
  /** Where its filled values came from. */
  readonly origins?: Readonly<Record<string, Origin>>;
}

/** The record that a line belongs to, as the line reads it. */
export interface Enclosing {
  readonly values: Values;
  /** Its values as they are saved; undefined for a new one, and where nobody asks what changed. */
  readonly before?: Values;
  readonly linked: Readonly<Record<string, LinkedRecord>>;
}

/** What an entry is opened with besides the form: the account, and the civil date and time that `today` and `now` mean. */
export interface Opening {
  readonly account: string | null;
  readonly now: string;
  readonly record: OpenedRecord | null;
  readonly enclosing?: Enclosing;
  /** The lines that the record has, by subform, in their order. */
  readonly lines?: Readonly<Record<string, readonly OpenedRecord[]>>;
}

/** Names one line of one subform. */
export interface LineAddress {
  readonly subform: string;
  readonly key: string;
}

/** One line of a subform: an entry of its own inside that of its record. */
export interface SubformLine {
  /** Names the line while the entry is open. */
  readonly key: string;
  /** Archived with the next save. */
  readonly archived: boolean;
  readonly state: EntryState;
}

export type SubformLines = Readonly<Record<string, readonly SubformLine[]>>;

/** A value that a fill offers for a field that has another value. */
export interface Offer {
  readonly value: Value;
  readonly linked?: LinkedRecord;
  readonly origin: Origin;
}

/** The value that somebody else saved in a field that was changed here as well. */
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

/** Text that could not be read as a value: what a person typed, and the message that is shown beside it. */
export interface Unparsed {
  readonly text: string;
  readonly message: string;
  /** True for text typed into a dropdown: the first choice that it finds is taken, as the open list would show it. */
  readonly near?: true;
}

/**
 * What a lookup did not find: no record or, for a key, several of which a person chooses one. `stops` refuses the save;
 * with `adds` the missing record can be added.
 */
export type LookupFailure =
  | { readonly kind: 'none'; readonly message: string; readonly stops: boolean; readonly adds?: true }
  | {
      readonly kind: 'several';
      readonly message: string;
      readonly stops: boolean;
      readonly found: readonly FoundRecord[];
    };

/** The kinds of requests that belong to a field; a save belongs to the whole entry. */
export type FieldRequest = Exclude<Question['kind'], 'save'>;

/** What a running form knows of one field besides its value. What is left out is false, or there is none. */
export interface FieldState {
  /** The value for which narrowing and fills were last propagated; left out, the value has to be propagated. */
  readonly propagated?: Value;
  /** Text that could not be read as a value, kept as it was typed. */
  readonly unparsed?: Unparsed;
  readonly touched?: boolean;
  /** The value was submitted, or restored from unsaved work: fills do not replace it. */
  readonly submitted?: boolean;
  /** A condition requires the field now. */
  readonly conditionallyRequired?: boolean;
  /** Where the value was filled from. */
  readonly origin?: Origin;
  /** The value that a fill offers in place of the present one; the person decides. */
  readonly offer?: Offer;
  /** Somebody else has changed the field as well; the person decides. */
  readonly conflict?: Conflict;
  readonly lookupFailure?: LookupFailure;
  /** Which record was chosen where a key found several. */
  readonly picked?: number;
  /** What the form did to the field by itself, in words: “was cleared”, “was chosen”. */
  readonly notice?: string;
  /** The choices as they arrived last. */
  readonly choices?: ChoiceList;
  /** The number of the open request of each kind; an answer with another number is outdated. */
  readonly requests?: Readonly<Partial<Record<FieldRequest, number>>>;
}

/** How far a save has come: nobody pressed it, it waits for open lookups, or it was sent. */
export type Phase =
  | { readonly kind: 'open' }
  | { readonly kind: 'settling' }
  | { readonly kind: 'saving'; readonly request: number };

/**
 * A form while it is filled, or a record while it is changed: values, what is known of each field and of linked records,
 * what is hidden, which rules are broken, and which requests are open. Plain data: `reduceEntry` returns a new state for each
 * event and never changes the old one. A line of a subform is an `EntryState` of its own inside that of its record.
 *
 * @example
 * let { state } = openEntry(form, { account: 'quayclerk', now: '2026-08-17T15:30', record: null });
 * ({ state } = reduceEntry(state, { type: 'typed', field: 'persons', text: '4' }));
 * state.values.persons; // 4
 */
export interface EntryState {
  readonly form: PreparedForm;
  readonly opening: Opening;
  /** The values that the entry was opened with: blank or default, or those of the record. */
  readonly original: Values;
  readonly values: Values;
  /** The linked records, by field. */
  readonly linked: Readonly<Record<string, LinkedRecord>>;
  /** Fields and subforms that are not shown now. */
  readonly hidden: Readonly<Record<string, true>>;
  /** What is known of each field and subform besides its value. */
  readonly fields: Readonly<Record<string, FieldState>>;
  /** The rules that are broken now, by their position in the form’s list. */
  readonly broken: Readonly<Record<number, true>>;
  /** Reasons that a person gave for breaking rules that ask, by rule. */
  readonly reasons: Readonly<Record<string, string>>;
  /** The problems for which the server refused the last save. */
  readonly refusals: readonly Problem[];
  /** The lines of each subform; the last one may be blank, ready to be typed in. */
  readonly lines: SubformLines;
  /** The lines before each of the last steps that added, moved or removed some, for undo. */
  readonly past: readonly SubformLines[];
  readonly linesMade: number;
  readonly requestsMade: number;
  /** Who fills the entry: a person, or the server, which replays what a person has sent. */
  readonly mode: 'filled' | 'replayed';
  readonly phase: Phase;
}

/**
 * Something that needs records, and so an adapter to answer it. The answer is an event with the same number and field,
 * given to the same line where a line asked.
 */
export type Request = Question & { readonly line?: LineAddress };

export type Question =
  | {
      readonly kind: 'choices';
      readonly number: number;
      readonly field: FieldId;
      readonly values: Values;
      readonly search: string;
    }
  | { readonly kind: 'lookup'; readonly number: number; readonly field: FieldId; readonly id: number }
  | { readonly kind: 'keyLookup'; readonly number: number; readonly field: FieldId; readonly key: Value }
  /** The columns of a linked record that the form reads, without filling anything from it. */
  | { readonly kind: 'facts'; readonly number: number; readonly field: FieldId; readonly id: number }
  | { readonly kind: 'check'; readonly number: number; readonly field: FieldId; readonly values: Values }
  /** Whether exactly one choice is left. */
  | { readonly kind: 'only'; readonly number: number; readonly field: FieldId; readonly values: Values }
  /** The choice whose title a text is; with `near`, otherwise the first choice that the text finds. */
  | {
      readonly kind: 'match';
      readonly number: number;
      readonly field: FieldId;
      readonly text: string;
      readonly near: boolean;
      readonly values: Values;
    }
  | ({ readonly kind: 'save'; readonly number: number } & Submission);

/** A line as a save sends it. An unchanged line is sent by its id only, so that its place is known. */
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
  /** Reasons for the rules that ask and are broken, by rule. */
  readonly reasons: Readonly<Record<string, string>>;
  readonly picked: Readonly<Record<string, number>>;
  /** By subform, in their order. */
  readonly lines: Readonly<Record<string, readonly SentLine[]>>;
}

export type EntryEvent =
  /** A value was chosen or set; for a link, with the record as the list showed it. */
  | {
      readonly type: 'changed';
      readonly field: FieldId;
      readonly value: Value;
      readonly linked?: LinkedRecord;
      /** The value was not chosen from the field’s list: whether it is among the choices has to be asked. */
      readonly unchosen?: true;
    }
  /** A person is typing in a field. */
  | { readonly type: 'typed'; readonly field: FieldId; readonly text: string }
  | { readonly type: 'left'; readonly field: FieldId }
  /** A dropdown was opened: its choices are asked for, with the text typed so far. */
  | { readonly type: 'opened'; readonly field: FieldId; readonly search: string }
  | {
      readonly type: 'choicesArrived';
      readonly number: number;
      readonly field: FieldId;
      readonly choices: readonly Choice[];
      readonly more: boolean;
    }
  | {
      readonly type: 'found';
      readonly number: number;
      readonly field: FieldId;
      readonly kind: 'lookup' | 'keyLookup' | 'facts';
      readonly found: readonly FoundRecord[];
    }
  | { readonly type: 'checked'; readonly number: number; readonly field: FieldId; readonly fits: boolean }
  /** The one choice that is left for a field, or none when there are more or fewer. */
  | { readonly type: 'onlyChoice'; readonly number: number; readonly field: FieldId; readonly choice: Choice | null }
  /** A person takes or declines what a fill offers. */
  | { readonly type: 'offerAnswered'; readonly field: FieldId; readonly take: boolean }
  /** A person chose one of several records that a key found. */
  | { readonly type: 'matchPicked'; readonly field: FieldId; readonly id: number }
  /** The field is filled again, with the value that the record has today. */
  | { readonly type: 'refilled'; readonly field: FieldId }
  /** A person gives a reason for a rule that asks. */
  | { readonly type: 'reasonGiven'; readonly rule: string; readonly reason: string }
  /** A dropdown was left with text that is the title of no choice. */
  | { readonly type: 'unmatched'; readonly field: FieldId; readonly text: string }
  /**
   * Text was pasted into a cell: it is read as a value, or matched with the choices of a dropdown. With `near` it was typed
   * into a dropdown that was left before its choices had arrived.
   */
  | { readonly type: 'textMatched'; readonly field: FieldId; readonly text: string; readonly near?: true }
  /** The choice that a text means; null when there is none. */
  | { readonly type: 'matched'; readonly number: number; readonly field: FieldId; readonly choice: Choice | null }
  /** Something happens in a line. */
  | { readonly type: 'line'; readonly line: LineAddress; readonly event: EntryEvent }
  /** A value starts a new line in the blank one, as each of several files does. */
  | { readonly type: 'lineBegun'; readonly subform: string; readonly field: FieldId; readonly value: Value }
  | { readonly type: 'lineMoved'; readonly line: LineAddress; readonly to: number }
  | { readonly type: 'lineArchived'; readonly line: LineAddress }
  | { readonly type: 'copiedDown'; readonly line: LineAddress; readonly field: FieldId }
  | {
      readonly type: 'pasted';
      readonly line: LineAddress;
      readonly field: FieldId;
      readonly rows: readonly (readonly string[])[];
    }
  | { readonly type: 'linesUndone' }
  /** The state is an earlier one whose answers were lost: its open requests are sent again. */
  | { readonly type: 'requestsResent' }
  /** A key is looked up again: its record may exist now. */
  | { readonly type: 'lookUpAgain'; readonly field: FieldId }
  /** The record, or this line of it, was saved meanwhile: by somebody else or, where `by` is null, from here. */
  | {
      readonly type: 'remoteSaved';
      readonly record: OpenedRecord;
      readonly lines?: Readonly<Record<string, readonly OpenedRecord[]>>;
      readonly by: string | null;
    }
  /** A person decides between their own value of a field and somebody else’s. */
  | { readonly type: 'conflictDecided'; readonly field: FieldId; readonly theirs: boolean }
  /** A blank line became a line: its defaults take effect. */
  | { readonly type: 'lineStarted' }
  /** The enclosing record changed in fields that this line reads. */
  | { readonly type: 'enclosingChanged'; readonly enclosing: Enclosing; readonly moved: readonly string[] }
  /** The enclosing record is being saved: every field of the line counts as touched. */
  | { readonly type: 'allTouched' }
  /** A step of a long form is being left: its fields and subforms count as touched. */
  | { readonly type: 'stepLeft'; readonly items: readonly string[] }
  /** A request of a field that got no answer: the connection was lost. */
  | { readonly type: 'failed'; readonly number: number; readonly field: FieldId; readonly kind: FieldRequest }
  /** A save that got no answer. */
  | { readonly type: 'saveFailed'; readonly number: number }
  | { readonly type: 'savePressed' }
  | { readonly type: 'refused'; readonly problems: readonly Problem[] }
  | { readonly type: 'reset' };

/** The state after an event, and the requests that it makes. */
export interface Step {
  readonly state: EntryState;
  readonly requests: readonly Request[];
}
