import type { FindingView } from '@fiche/core/api';
import type { EntryState } from '@fiche/core/entry';
import { type DefinedForm, type Item, labelAt, type PreparedForm } from '@fiche/core/forms';
import { say } from '@fiche/core/languages';
import type { FieldId } from '@fiche/core/tables';
import { WhySheet } from '../entry/index.ts';
import { useNotify } from '../parts/index.ts';
import { itemOn, lineKey } from './edit.ts';
import { FindingsSheet } from './FindingsSheet.tsx';
import formEditorCss from './formEditor.module.css';
import { VersionsSheet } from './VersionsSheet.tsx';

/** The sheet that is open beside the editor. */
export type OpenSheet =
  | { readonly kind: 'findings' }
  | { readonly kind: 'versions' }
  | { readonly kind: 'why'; readonly field: FieldId };

/** A published version that is tried in place of the draft. */
export interface TriedVersion {
  readonly number: number;
  readonly definition: DefinedForm;
}

interface EditorSheetProps {
  readonly sheet: OpenSheet;
  /** The form’s id. */
  readonly id: string;
  readonly definition: DefinedForm;
  readonly prepared: PreparedForm;
  readonly findings: readonly FindingView[];
  readonly liveVersion: number | null;
  readonly trying: TriedVersion | undefined;
  readonly entry: EntryState | undefined;
  onTry(version: TriedVersion | undefined): void;
  onShow(path: string): void;
  onChange(definition: DefinedForm): void;
  onClose(): void;
}

/** The findings of the check, the versions, or why a dropdown offers what it offers. */
export function EditorSheet(props: EditorSheetProps) {
  const { sheet, id, definition, prepared, findings, liveVersion, trying, entry, onTry, onShow, onChange, onClose } =
    props;
  const notify = useNotify();
  const { tables } = prepared;
  const labelOf = (path: string): string =>
    path === 'sections' || path === 'page'
      ? say('the form')
      : path.startsWith('#')
        ? placeWords(definition, path)
        : (lineLabel(prepared, path) ??
          prepared.fields.get(path)?.label ??
          prepared.subforms.get(path)?.label ??
          labelAt(tables, definition.table, path));
  return (
    <div className={formEditorCss.sheet}>
      {sheet.kind === 'findings' && (
        <FindingsSheet
          findings={findings}
          published={liveVersion === null ? undefined : id}
          labelOf={labelOf}
          onShow={onShow}
          onClose={onClose}
        />
      )}
      {sheet.kind === 'versions' && (
        <VersionsSheet
          id={id}
          draft={definition}
          tables={tables}
          live={liveVersion}
          trying={trying?.number}
          onTry={onTry}
          onBringBack={(number, old) => {
            onChange(old);
            notify(say('Version {number} is the draft now. Undo brings yours back.', { number }));
          }}
          onClose={onClose}
        />
      )}
      {sheet.kind === 'why' && entry && (
        <WhySheet
          state={entry}
          field={sheet.field}
          base={`/api/forms/${id}/draft`}
          formVersion={trying?.number}
          onClose={onClose}
        />
      )}
    </div>
  );
}

/** What a place in lines is called: `Services used, Quantity`. */
function lineLabel({ subforms }: PreparedForm, path: string): string | undefined {
  const at = lineKey(path);
  const subform = subforms.get(at?.subform ?? '');
  return at && subform && `${subform.label}, ${subform.form.fields.get(at.key)?.label ?? at.key}`;
}

const PLACE_WORDS: Readonly<Record<Item['kind'], string>> = {
  field: say('the field'),
  card: say('the reference card'),
  heading: say('the heading'),
  note: say('the note'),
  subform: say('the subform'),
};

/** What a finding at no field is about. */
function placeWords(definition: DefinedForm, path: string): string {
  const section = definition.sections.find((one) => `#${one.id}` === path);
  if (section) return section.label ? say('the section {label}', { label: section.label }) : say('the section');
  const item = itemOn(definition, path);
  return item ? PLACE_WORDS[item.kind] : say('the place');
}
