import type { ChangeCounts } from '@fiche/core/changes';
import type { Problem } from '@fiche/core/fields';
import type { RecordId } from '@fiche/core/tables';
import type { ChangedRecord, ChangePreview, RefusedRecord } from './plans.ts';

/** Records of each kind that are shown before a change is written. */
const SHOWN = 200;
/** Different things that are said of records; more of them are no pattern that helps. */
const MOST_REASONS = 50;

/** What stands against a record; with `asks`, a reason lets it through. */
type Standing = Problem & { readonly asks?: true };

/** What a check finds, added up as it goes. Holds the first records of each kind only, however many there are. */
export class Findings {
  private readonly changed: ChangedRecord[] = [];
  private readonly refused: RefusedRecord[] = [];
  private readonly reasons = new Map<string, number>();
  private readonly asked = new Map<string, { rule: string; message: string; count: number }>();
  private count = { found: 0, change: 0, same: 0, refused: 0 };

  get counts(): ChangeCounts {
    return this.count;
  }

  addSame(): void {
    this.count = { ...this.count, found: this.count.found + 1, same: this.count.same + 1 };
  }

  addChanged(one: ChangedRecord): void {
    this.count = { ...this.count, found: this.count.found + 1, change: this.count.change + 1 };
    if (this.changed.length < SHOWN) this.changed.push(one);
  }

  addRefused(record: RecordId, problems: readonly Standing[]): void {
    this.count = { ...this.count, found: this.count.found + 1, refused: this.count.refused + 1 };
    this.tell(record, problems);
  }

  /** Records that were to change, and cannot for what all of them together show. */
  refuseChanged(records: readonly RecordId[], problem: Problem): void {
    const { change, refused } = this.count;
    this.count = { ...this.count, change: change - records.length, refused: refused + records.length };
    for (const record of records) this.tell(record, [problem]);
    const gone = new Set(records);
    this.changed.splice(0, Number.POSITIVE_INFINITY, ...this.changed.filter((one) => !gone.has(one.record)));
  }

  preview(): ChangePreview {
    const reasons = [...this.reasons].map(([message, count]) => ({ message, count }));
    return {
      changed: this.changed,
      refused: this.refused,
      reasons: reasons.sort((a, b) => b.count - a.count),
      asked: [...this.asked.values()],
    };
  }

  private tell(record: RecordId, problems: readonly Standing[]): void {
    if (this.refused.length < SHOWN)
      this.refused.push({ record, problems: problems.map(({ path, rule, message }) => ({ path, rule, message })) });
    for (const { rule, message, asks } of problems) {
      if (asks) {
        const one = this.asked.get(rule) ?? { rule, message, count: 0 };
        this.asked.set(rule, { ...one, count: one.count + 1 });
      } else if (this.reasons.has(message) || this.reasons.size < MOST_REASONS)
        this.reasons.set(message, (this.reasons.get(message) ?? 0) + 1);
    }
  }
}
