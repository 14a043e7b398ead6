import { say } from '@fiche/core/languages';
import { type DuplicatesBy, MATCH_MODES, MOST_COMPARED_FIELDS, matchModesOf } from '@fiche/core/merging';
import type { TableDefinition } from '@fiche/core/tables';
import RemoveIcon from '@mui/icons-material/Close';
import Button from '@mui/material/Button';
import IconButton from '@mui/material/IconButton';
import { FindInput, SelectField, textCss } from '../parts/index.ts';
import mergingCss from './merging.module.css';

interface CriteriaProps {
  readonly table: TableDefinition;
  readonly by: DuplicatesBy;
  /** Words that all of the compared records contain; `''` for all records. */
  readonly search: string;
  onChange(by: DuplicatesBy): void;
  onSearch(search: string): void;
  onFind(): void;
}

/** By which fields two records are held for the same, and how alike these have to be. */
export function DuplicateCriteria({ table, by, search, onChange, onSearch, onFind }: CriteriaProps) {
  const fields = table.fields.filter((field) => matchModesOf(field).length > 0);
  const free = fields.filter((field) => by.every((one) => one.field !== field.id));
  const change = (at: number, to: Partial<DuplicatesBy[number]>): void =>
    onChange(by.map((one, n) => (n === at ? { ...one, ...to } : one)));
  const add = (): void => {
    const [field] = free;
    if (field) onChange([...by, { field: field.id, how: 'exact' }]);
  };
  if (fields.length === 0)
    return (
      <p className={textCss.faded}>
        {say('This table has no field by which records can be compared. Add a text first.')}
      </p>
    );
  return (
    <form
      className={mergingCss.criteria}
      aria-label={say('How duplicates are found')}
      onSubmit={(event) => {
        event.preventDefault();
        onFind();
      }}
    >
      <span>{say('Two records may be the same where')}</span>
      {by.map((one, at) => {
        const field = fields.find((other) => other.id === one.field);
        const possible = field ? matchModesOf(field) : [];
        return (
          <span key={one.field} className={mergingCss.criterion}>
            {at > 0 && <strong>{say('and')}</strong>}
            <SelectField
              hiddenLabel
              label={say('Field {at}', { at: at + 1 })}
              value={one.field}
              options={[...(field ? [field] : []), ...free].map((other) => ({ value: other.id, label: other.label }))}
              onChange={(id) => {
                const next = fields.find((other) => other.id === id);
                const fits = next && matchModesOf(next).includes(one.how);
                change(at, { field: id, how: fits ? one.how : 'exact' });
              }}
            />
            <SelectField
              hiddenLabel
              label={say('How {label} is compared', { label: field?.label ?? 'it' })}
              value={one.how}
              options={MATCH_MODES.filter((how) => possible.includes(how.name)).map(({ name, label }) => ({
                value: name,
                label: say(label),
              }))}
              onChange={(how) => change(at, { how: MATCH_MODES.find((other) => other.name === how)?.name ?? 'exact' })}
            />
            {by.length > 1 && (
              <IconButton
                aria-label={say('Do not compare {label}', { label: field?.label ?? 'it' })}
                onClick={() => onChange(by.filter((_other, n) => n !== at))}
              >
                <RemoveIcon />
              </IconButton>
            )}
          </span>
        );
      })}
      {free.length > 0 && by.length < MOST_COMPARED_FIELDS && (
        <Button variant="text" onClick={add}>
          {by.length === 0 ? say('+ Field') : say('+ and another field')}
        </Button>
      )}
      <span className={mergingCss.criterion}>
        {say('among records that contain')}
        <FindInput
          label={say('Only records that contain')}
          placeholder={say('anything')}
          value={search}
          onChange={onSearch}
        />
      </span>
      <Button type="submit" variant="contained" disabled={by.length === 0}>
        {say('Find duplicates')}
      </Button>
    </form>
  );
}
