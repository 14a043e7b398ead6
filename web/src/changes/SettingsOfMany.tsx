import type { Becomes, FieldSetting } from '@fiche/core/changes';
import type { Opening } from '@fiche/core/entry';
import { holdsFiles, isBlank } from '@fiche/core/fields';
import { say } from '@fiche/core/languages';
import { civilNow } from '@fiche/core/office';
import type { FieldId, TableDefinition } from '@fiche/core/tables';
import { columnsFor, isLinkedFrom } from '@fiche/core/views';
import RemoveIcon from '@mui/icons-material/Close';
import Button from '@mui/material/Button';
import IconButton from '@mui/material/IconButton';
import { useEffect, useMemo, useRef, useState } from 'react';
import { useOffice, useTableForm } from '../client/index.ts';
import { OneField, PlaceContext, useEntry } from '../entry/index.ts';
import { PickField, SelectField, textCss } from '../parts/index.ts';
import { ExpressionEditor } from '../sentences/index.ts';
import changeCss from './change.module.css';

/** What a field becomes, while it is being chosen. */
interface DraftSetting {
  readonly field: FieldId;
  readonly kind: Exclude<Becomes['kind'], 'replace'>;
  /** With `field`: the path that is copied. */
  readonly path: string;
  /** With `calculation`: the formula. */
  readonly source: string;
}

interface SettingsOfManyProps {
  readonly table: TableDefinition;
  readonly busy: boolean;
  /** Something else is wanted: what was found counts no more. */
  onEdit(): void;
  onCheck(settings: readonly FieldSetting[]): void;
}

/** Which fields change, and what each of them becomes. The values are entered as on a card, with the same choices. */
export function SettingsOfMany({ table, busy, onEdit, onCheck }: SettingsOfManyProps) {
  const { session } = useOffice();
  const [drafts, setDrafts] = useState<readonly DraftSetting[]>([]);
  const form = useTableForm(table);
  const opening = useMemo((): Opening => ({ account: session.login, now: civilNow(), record: null }), [session.login]);
  const entry = useEntry({ form, opening, base: `/api/tables/${table.id}`, onSaved: () => undefined });
  const used = new Set(drafts.map((one) => one.field));
  const settable = [...form.fields.values()].filter(
    ({ id, placed, readOnly, field }) => placed && !readOnly && !holdsFiles(field) && !used.has(id),
  );
  const settings = drafts.map(
    ({ field, kind, path, source }): FieldSetting => ({
      field,
      becomes:
        kind === 'value'
          ? { kind, value: entry.state.values[field] ?? null }
          : kind === 'field'
            ? { kind, path }
            : kind === 'calculation'
              ? { kind, source }
              : { kind },
    }),
  );
  // However a setting is changed, by typing, a dropdown or a fill: what was checked is another change.
  const wanted = JSON.stringify(settings);
  const before = useRef(wanted);
  useEffect(() => {
    if (before.current !== wanted) onEdit();
    before.current = wanted;
  }, [wanted, onEdit]);
  const lacking = settings.find(
    ({ becomes }) =>
      (becomes.kind === 'value' && isBlank(becomes.value as never)) ||
      (becomes.kind === 'field' && becomes.path === '') ||
      (becomes.kind === 'calculation' && becomes.source === ''),
  );
  return (
    <PlaceContext.Provider value="many:">
      <div>
        {drafts.map((draft, at) => (
          <OneSetting
            key={draft.field}
            {...{ table, entry, draft }}
            onChange={(next) => setDrafts(drafts.map((one, place) => (place === at ? next : one)))}
            onRemove={() => setDrafts(drafts.filter((_one, place) => place !== at))}
          />
        ))}
      </div>
      <PickField
        // Empty again after each field that was added.
        key={drafts.length}
        id="change-field"
        label={drafts.length === 0 ? say('Which field changes?') : say('Another field')}
        options={settable.map(({ id, label }) => ({ value: id, label }))}
        value=""
        onPick={(field) => field !== '' && setDrafts([...drafts, { field, kind: 'value', path: '', source: '' }])}
      />
      <p className={changeCss.acts}>
        <Button disabled={busy || drafts.length === 0 || lacking !== undefined} onClick={() => onCheck(settings)}>
          {say('Check')}
        </Button>
        <span className={textCss.faded}>
          {drafts.length === 0
            ? say('Nothing is written before you have seen what changes.')
            : lacking
              ? say('Say what {label} becomes.', { label: form.fields.get(lacking.field)?.label ?? '' })
              : say('Shows what changes; nothing is written yet.')}
        </span>
      </p>
    </PlaceContext.Provider>
  );
}

const KINDS: readonly { readonly value: DraftSetting['kind']; readonly label: string }[] = [
  { value: 'value', label: say('becomes this value') },
  { value: 'field', label: say('becomes what another field holds') },
  { value: 'calculation', label: say('becomes what a formula gives') },
  { value: 'blank', label: say('becomes blank') },
];

interface OneSettingProps {
  readonly table: TableDefinition;
  readonly entry: ReturnType<typeof useEntry>;
  readonly draft: DraftSetting;
  onChange(draft: DraftSetting): void;
  onRemove(): void;
}

function OneSetting({ table, entry, draft, onChange, onRemove }: OneSettingProps) {
  const { tables } = useOffice();
  const [writing, setWriting] = useState(false);
  const field = entry.state.form.fields.get(draft.field);
  if (!field) return null;
  const sources = columnsFor(tables, table).filter(
    (one) => one.field && one.path !== draft.field && !isLinkedFrom(one.path),
  );
  const choose = (kind: string): void => {
    const next = KINDS.find((one) => one.value === kind)?.value ?? 'value';
    setWriting(next === 'calculation');
    onChange({ ...draft, kind: next });
  };
  return (
    <fieldset className={changeCss.setting}>
      <legend>{field.label}</legend>
      <div className={changeCss.becomes}>
        <SelectField
          label={say('What {label} becomes', { label: field.label })}
          hiddenLabel
          value={draft.kind}
          options={KINDS.filter((one) => one.value !== 'blank' || !field.field.required)}
          onChange={choose}
        />
        <IconButton aria-label={say('Do not change {label}', { label: field.label })} onClick={onRemove}>
          <RemoveIcon />
        </IconButton>
      </div>
      {draft.kind === 'value' && <OneField entry={entry} id={draft.field} />}
      {draft.kind === 'field' && (
        <PickField
          id={`change-from-${draft.field}`}
          label={say('Copied from')}
          options={sources.map(({ path, label }) => ({ value: path, label }))}
          value={draft.path}
          onPick={(path) => onChange({ ...draft, path })}
        />
      )}
      {draft.kind === 'calculation' && !writing && (
        <p>
          <span className={textCss.mono}>{draft.source}</span>{' '}
          <Button variant="text" onClick={() => setWriting(true)}>
            {draft.source === '' ? say('Write a formula') : say('Change the formula')}
          </Button>
        </p>
      )}
      {draft.kind === 'calculation' && writing && (
        <ExpressionEditor
          label={say('Formula for {label}', { label: field.label })}
          current={draft.source}
          fields={table.fields}
          tables={tables}
          into={field.field}
          now={entry.state.opening.now}
          onSet={(source) => onChange({ ...draft, source })}
          onClose={() => setWriting(false)}
        />
      )}
    </fieldset>
  );
}
