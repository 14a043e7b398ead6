import type { ListedForm, RecordView } from '@fiche/core/api';
import { visibleProblems } from '@fiche/core/entry';
import { type DefinedForm, type Start, startsOf } from '@fiche/core/forms';
import { say, sayCount } from '@fiche/core/languages';
import type { FieldId } from '@fiche/core/tables';
import Button from '@mui/material/Button';
import { useOffice } from '../client/index.ts';
import { type Entry, hasUnsavedWork } from '../entry/index.ts';
import { useUploads } from '../inputs/index.ts';
import { WatchButton } from '../messages/index.ts';
import { cardCss, printAddress, Sentence, type Slot, Stamp } from '../parts/index.ts';
import type { PlacedRecord } from './card.ts';
import { EraseRecord, type Erasing } from './EraseRecord.tsx';

interface Props {
  readonly entry: Entry;
  readonly opened?: PlacedRecord;
  /** The form that the card is of; the table’s own card without. */
  readonly formId?: string;
  readonly archived: boolean;
  readonly mayWrite: boolean;
  readonly mayAdd: boolean;
  readonly kept: ReadonlySet<string>;
  readonly historyOpen: boolean;
  readonly erasing: Erasing | undefined;
  setErasing(erasing: Erasing | undefined): void;
  onHistory(): void;
  onKeep(field: FieldId): void;
  onCopy(): void;
  /** Starts another form with values of this record. */
  onStart(start: Start): void;
  onArchive(back: boolean): void;
  onErased(record: RecordView): void;
  onSave(next: boolean): void;
}

/** The foot of a card: its stamp, or what is kept for the next one; what can be done; Save, which says what is left. */
export function CardFoot(props: Props) {
  const { entry, opened, archived, mayWrite, mayAdd, historyOpen } = props;
  const { may, cabinet } = useOffice();
  const { state } = entry;
  const { definition, table } = state.form;
  const problems = visibleProblems(state);
  const asked = problems.filter((one) => one.asks).length;
  const open = problems.length - asked;
  const uploads = useUploads();
  const busy = uploads > 0 || state.phase.kind !== 'open';
  return (
    <footer className={cardCss.foot}>
      {opened && definition.showStamp && <Stamp {...opened.stamp} />}
      {!opened && mayWrite && <KeptSentence {...props} />}
      <div className={cardCss.end}>
        {opened && (opened.may?.history ?? may('history', table.id)) && (
          <Button variant="text" aria-expanded={historyOpen} onClick={props.onHistory}>
            {say('History')}
          </Button>
        )}
        {opened && (
          <Button variant="text" href={printAddress(table.id, opened.id, { form: props.formId })} target="_blank">
            {say('Print')}
          </Button>
        )}
        {opened && <WatchButton what={{ table: table.id, record: opened.id }} />}
        {opened && archived && may('erase') && (
          <EraseRecord {...props} table={table.id} record={opened} onErased={() => props.onErased(opened)} />
        )}
        {opened && (opened.may?.archive ?? may('archive', table.id)) && definition.may.archive && (
          <Button variant="text" onClick={() => props.onArchive(archived)}>
            {archived ? say('Restore') : say('Archive')}
          </Button>
        )}
        {opened &&
          !archived &&
          startable(definition, cabinet.forms, may).map((start) => (
            <Button key={start.label} variant="text" onClick={() => props.onStart(start)}>
              {start.label}
            </Button>
          ))}
        {opened && mayAdd && (
          <Button variant="text" onClick={props.onCopy}>
            {say('Duplicate')}
          </Button>
        )}
        {mayWrite && (
          <>
            <Button variant="text" disabled={!hasUnsavedWork(entry)} onClick={() => entry.dispatch({ type: 'reset' })}>
              {say('Reset')}
            </Button>
            <Button disabled={busy} onClick={() => props.onSave(true)}>
              {say('Save and next')}
            </Button>
            <Button variant="contained" data-save disabled={busy} onClick={() => props.onSave(false)}>
              {uploads > 0
                ? say('Uploading {uploads}…', { uploads: sayCount(uploads, 'one file', '{count} files') })
                : busy
                  ? say('Saving…')
                  : open > 0
                    ? say('Save, {open} left to correct', { open })
                    : asked > 0
                      ? say('Save, {asked} to give', { asked: sayCount(asked, '{count} reason', '{count} reasons') })
                      : say('Save')}
            </Button>
          </>
        )}
      </div>
    </footer>
  );
}

/** The buttons that start forms which are there, and to whose table the role adds. */
const startable = (
  definition: DefinedForm,
  forms: readonly ListedForm[],
  may: ReturnType<typeof useOffice>['may'],
): Start[] =>
  startsOf(definition).filter((start) =>
    forms.some(
      (form) =>
        form.id === start.form && !form.archived && form.liveVersion !== null && form.may.add && may('add', form.table),
    ),
  );

/** “Keep Harbour and Pontoon for the next one.” */
function KeptSentence({ entry, kept, onKeep }: Props) {
  const fields = [...entry.state.form.fields.values()].filter(
    (field) => field.placed && !field.readOnly && !field.field.unique,
  );
  const labels = fields.filter((field) => kept.has(field.id)).map((field) => field.label);
  const slot: Slot = {
    key: 'kept',
    label: say('fields kept for the next card'),
    shown: labels.length === 0 ? say('nothing') : labels.join(', '),
    quiet: labels.length === 0,
    pick: {
      kind: 'options',
      options: fields.map((field) => ({
        value: field.id,
        label: field.label,
        detail: kept.has(field.id) ? say('kept: stop keeping') : say('keep'),
      })),
    },
    onSet: onKeep,
  };
  return <Sentence parts={[`${say('Keep')} `, slot, ` ${say('for the next card.')}`]} />;
}
