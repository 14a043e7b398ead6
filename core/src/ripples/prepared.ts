import type { Values } from '../fields/index.ts';
import type { RecordId, Ripple, TableDefinition, TableId, Tables } from '../tables/index.ts';
import type { RippleEvent } from './event.ts';

/** What one effect of a ripple comes to for a save; `table` is where it writes. */
export type PreparedEffect =
  | {
      readonly does: 'add';
      readonly table: TableDefinition;
      /** The links that get the saved record itself. */
      readonly linksBack: ReadonlySet<string>;
      valuesOf(event: RippleEvent): Values;
    }
  | {
      readonly does: 'change';
      readonly table: TableDefinition;
      /** The record that it changes; null where the link is blank. */
      recordOf(event: RippleEvent): RecordId | null;
      valuesOf(event: RippleEvent): Values;
    }
  | {
      readonly does: 'message';
      /** Whom it is for: an address, or the login of an account; null where the field is blank. */
      receiverOf(event: RippleEvent): { readonly address: string } | { readonly login: string } | null;
      messageOf(event: RippleEvent): { readonly subject: string; readonly body: string };
    };

/** A ripple that can run. */
export interface PreparedRipple {
  readonly ripple: Ripple;
  /** The table whose saves it follows. */
  readonly table: TableDefinition;
  /** The paths behind links of the saved record that it reads: `vessel.owner`, `before__berth.pontoon`. */
  readonly reads: readonly string[];
  /** The linked records that its messages name: their titles are needed. */
  named(event: RippleEvent): { readonly table: TableId; readonly id: RecordId }[];
  /** Whether it follows this save. */
  follows(event: RippleEvent): boolean;
  readonly effects: readonly PreparedEffect[];
}

/** What the parts of a ripple are made ready with. */
export interface Around {
  /** The table of the saved record with its fields before and after; `tables` has it in place of the stored one. */
  readonly source: TableDefinition;
  readonly tables: Tables;
  readonly stored: Tables;
  readonly reads: Set<string>;
  /** The paths of links whose titles its messages show. */
  readonly named: Set<string>;
  refuse(path: string, message: string): void;
}
