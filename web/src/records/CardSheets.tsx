import type { Value } from '@fiche/core/fields';
import { say } from '@fiche/core/languages';
import type { FieldId } from '@fiche/core/tables';
import { type Entry, focusField, WhySheet } from '../entry/index.ts';
import { useNotify } from '../parts/index.ts';
import { AddInPlace, type Adding } from './AddInPlace.tsx';
import type { CardPageProps } from './card.ts';
import { HistorySheet } from './HistorySheet.tsx';

interface CardSheetsProps extends Pick<CardPageProps, 'base' | 'formId' | 'version'> {
  readonly entry: Entry;
  /** The dropdown whose choices are explained. */
  readonly why: string | undefined;
  setWhy(field: FieldId | undefined): void;
  readonly adding: Adding | undefined;
  setAdding(adding: Adding | undefined): void;
  /** The record whose history is open. */
  readonly history: number | undefined;
  readonly mayWrite: boolean;
  onHistoryClosed(): void;
}

/** The sheet beside a card, one at a time: why these choices, a new choice, the history. */
export function CardSheets(props: CardSheetsProps) {
  const { entry, base, formId, version, why, setWhy, adding, setAdding, history, mayWrite, onHistoryClosed } = props;
  const notify = useNotify();
  const { state } = entry;
  const putBack = (values: Readonly<Record<string, Value>>): void => {
    const open = Object.entries(values).filter(([id]) => state.form.fields.get(id)?.readOnly === false);
    for (const [field, value] of open) entry.dispatch({ type: 'changed', field, value, unchosen: true });
    notify(
      open.length === 0
        ? say('Nothing of this can be written on this form.')
        : say('Put back on the card. Save writes it, as a change of its own.'),
    );
  };
  if (why !== undefined)
    return <WhySheet state={state} field={why} base={base} formVersion={version} onClose={() => setWhy(undefined)} />;
  if (adding) {
    const close = (): void => {
      setAdding(undefined);
      focusField(adding.path);
    };
    return (
      <AddInPlace
        key={adding.path}
        {...adding}
        state={state}
        onClose={close}
        onAdded={(event, title) => {
          entry.dispatch(event);
          notify(say('{title} was added, and chosen.', { title }));
          close();
        }}
      />
    );
  }
  if (history === undefined) return null;
  return (
    <HistorySheet
      table={state.form.table.id}
      record={history}
      formId={formId}
      onPutBack={mayWrite ? putBack : undefined}
      onClose={onHistoryClosed}
    />
  );
}
