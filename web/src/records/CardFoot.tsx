import type { RecordView } from '@fiche/core/api';
import { visibleProblems } from '@fiche/core/entry';
import { useOffice } from '../client/index.ts';
import { type Entry, hasUnsavedWork } from '../entry/index.ts';
import { useUploads } from '../inputs/index.ts';
import { Sentence, type Slot, Stamp } from '../parts/index.ts';
import type { PlacedRecord } from './CardPage.tsx';
import { EraseRecord, type Erasing } from './EraseRecord.tsx';

interface Props {
  readonly entry: Entry;
  readonly opened?: PlacedRecord;
  readonly archived: boolean;
  readonly mayWrite: boolean;
  readonly mayAdd: boolean;
  readonly kept: ReadonlySet<string>;
  readonly historyOpen: boolean;
  readonly erasing: Erasing | undefined;
  setErasing(erasing: Erasing | undefined): void;
  onHistory(): void;
  onKeep(field: string): void;
  onCopy(): void;
  onArchive(back: boolean): void;
  onErased(record: RecordView): void;
  onSave(next: boolean): void;
}

/** The foot of a card: its stamp, or what is kept for the next one; what can be done; Save, which says what is left. */
export function CardFoot(props: Props) {
  const { entry, opened, archived, mayWrite, mayAdd, historyOpen } = props;
  const { may } = useOffice();
  const { state } = entry;
  const { definition, table } = state.form;
  const problems = visibleProblems(state);
  const asked = problems.filter((one) => one.asks).length;
  const open = problems.length - asked;
  const uploads = useUploads();
  const busy = uploads > 0 || state.phase === 'saving' || state.phase === 'settling';
  return (
    <footer className="card-foot">
      {opened && definition.showStamp && <Stamp {...opened.stamp} />}
      {!opened && mayWrite && <KeptSentence {...props} />}
      <div className="end">
        {opened && may('history') && (
          <button type="button" className="button plain" aria-expanded={historyOpen} onClick={props.onHistory}>
            History
          </button>
        )}
        {opened && archived && may('erase') && (
          <EraseRecord {...props} table={table.id} record={opened} onErased={() => props.onErased(opened)} />
        )}
        {opened && may('archive') && definition.may.archive && (
          <button type="button" className="button plain" onClick={() => props.onArchive(archived)}>
            {archived ? 'Restore' : 'Archive'}
          </button>
        )}
        {opened && mayAdd && (
          <button type="button" className="button plain" onClick={props.onCopy}>
            Copy
          </button>
        )}
        {mayWrite && (
          <>
            <button
              type="button"
              className="button plain"
              disabled={!hasUnsavedWork(entry)}
              onClick={() => entry.dispatch({ type: 'reset' })}
            >
              Reset
            </button>
            <button type="button" className="button" disabled={busy} onClick={() => props.onSave(true)}>
              Save and next
            </button>
            <button type="button" className="button main" disabled={busy} onClick={() => props.onSave(false)}>
              {uploads > 0
                ? `${uploads === 1 ? 'One file' : `${uploads} files`} on the way…`
                : busy
                  ? 'Saving…'
                  : open > 0
                    ? `Save, ${open} left to mend`
                    : asked > 0
                      ? `Save, ${asked} to give a reason for`
                      : 'Save'}
            </button>
          </>
        )}
      </div>
    </footer>
  );
}

/** “Keep Harbour and Pontoon for the next one.” */
function KeptSentence({ entry, kept, onKeep }: Props) {
  const fields = [...entry.state.form.fields.values()].filter(
    (field) => field.placed && !field.readOnly && !field.field.unique,
  );
  const labels = fields.filter((field) => kept.has(field.id)).map((field) => field.label);
  const slot: Slot = {
    key: 'kept',
    label: 'fields kept for the next card',
    shown: labels.length === 0 ? 'nothing' : labels.join(', '),
    quiet: labels.length === 0,
    pick: {
      kind: 'options',
      options: fields.map((field) => ({
        value: field.id,
        label: field.label,
        detail: kept.has(field.id) ? 'kept: let it go' : 'keep it',
      })),
    },
    onSet: onKeep,
  };
  return <Sentence parts={['Keep ', slot, ' for the next card.']} />;
}
