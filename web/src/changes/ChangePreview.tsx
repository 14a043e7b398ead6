import type { ChangeView } from '@fiche/core/api';
import type { ChangePlan } from '@fiche/core/changes';
import { formatCount } from '@fiche/core/office';
import type { TableDefinition } from '@fiche/core/tables';
import Button from '@mui/material/Button';
import { useId, useState } from 'react';
import { Link } from 'react-router-dom';
import { useOffice } from '../client/index.ts';
import { FieldInput, ledgerLineCss, RuledField, textCss } from '../parts/index.ts';
import changeCss from './change.module.css';

const n = (count: number, one: string, many: string): string => `${formatCount(count)} ${count === 1 ? one : many}`;

interface ChangePreviewProps {
  readonly table: TableDefinition;
  readonly change: ChangeView;
  readonly reasons: ChangePlan['reasons'];
  /** Checks again, with a reason for each rule that asks. */
  onReasons(reasons: ChangePlan['reasons']): void;
}

/** What a change of many would do: how many records, some of them field by field, and what stands against the others. */
export function ChangePreview({ table, change, reasons, onReasons }: ChangePreviewProps) {
  const { counts } = change;
  if (!counts) return null;
  const found = [
    counts.change > 0 ? `${formatCount(counts.change)} to change` : '',
    counts.same > 0 ? `${n(counts.same, 'is', 'are')} so already` : '',
    counts.refused > 0 ? `${formatCount(counts.refused)} cannot be changed` : '',
  ].filter((part) => part !== '');
  return (
    <section className={changeCss.preview} aria-label="What the check found">
      <p role="status">
        <strong>{n(counts.found, 'record', 'records')} checked:</strong> {found.join(', ') || 'none to change'}. Nothing
        is written yet.
      </p>
      {change.asked.length > 0 && <AskedRules asked={change.asked} reasons={reasons} onReasons={onReasons} />}
      {counts.refused > 0 && <Refused table={table} change={change} />}
      {change.changed.some((one) => one.changes.length > 0) && <Changed table={table} change={change} />}
    </section>
  );
}

function AskedRules({
  asked,
  reasons,
  onReasons,
}: Pick<ChangePreviewProps, 'reasons' | 'onReasons'> & { readonly asked: ChangeView['asked'] }) {
  const id = useId();
  const [typed, setTyped] = useState<Readonly<Record<string, string>>>(reasons);
  const given = Object.fromEntries(Object.entries(typed).filter(([, text]) => text.trim() !== ''));
  return (
    <form
      onSubmit={(event) => {
        event.preventDefault();
        onReasons(given);
      }}
    >
      {asked.map(({ rule, message, count }) => (
        <RuledField
          key={rule}
          id={`${id}-${rule}`}
          label={`${message} Reason for ${n(count, 'record', 'records')}`}
          asks
        >
          <FieldInput
            id={`${id}-${rule}`}
            value={typed[rule] ?? ''}
            maxLength={500}
            onChange={(event) => setTyped({ ...typed, [rule]: event.target.value })}
          />
        </RuledField>
      ))}
      <Button type="submit" disabled={asked.every(({ rule }) => given[rule] === undefined)}>
        Check again with the {asked.length === 1 ? 'reason' : 'reasons'}
      </Button>
    </form>
  );
}

/** Records that cannot be changed, and why: how often each reason, then the first records. */
function Refused({ table, change }: Pick<ChangePreviewProps, 'table' | 'change'>) {
  const { cabinet } = useOffice();
  const more = (change.counts?.refused ?? 0) - change.refused.length;
  return (
    <>
      <h3 className={changeCss.part}>Cannot be changed</h3>
      <ul className={changeCss.reasons}>
        {change.reasons.map(({ message, count }) => (
          <li key={message}>
            {message} <span className={textCss.faded}>({n(count, 'record', 'records')})</span>
          </li>
        ))}
      </ul>
      <ul className={changeCss.records}>
        {change.refused.map(({ record, title, problems }) => (
          <li key={record}>
            <Link to={`/${cabinet.id}/tables/${table.id}/${record}`}>{title}</Link>
            {problems.map(({ field, message }) => (
              <div key={message} className={textCss.problem}>
                {field === '' ? message : `${field}: ${message}`}
              </div>
            ))}
          </li>
        ))}
        {more > 0 && <li className={textCss.faded}>and {n(more, 'record', 'records')} more</li>}
      </ul>
    </>
  );
}

/** The first records that change, field by field. */
function Changed({ table, change }: Pick<ChangePreviewProps, 'table' | 'change'>) {
  const { cabinet } = useOffice();
  const more = (change.counts?.change ?? 0) - change.changed.length;
  return (
    <>
      <h3 className={changeCss.part}>What changes</h3>
      <ul className={changeCss.records}>
        {change.changed.map(({ record, title, changes }) => (
          <li key={record}>
            <Link to={`/${cabinet.id}/tables/${table.id}/${record}`}>{title}</Link>
            {changes.map(({ field, label, before, after }) => (
              <div key={field} className={ledgerLineCss.change}>
                {label}: <del>{before || 'blank'}</del> <span aria-hidden="true">→</span>
                <span className={textCss.visuallyHidden}>becomes</span> <ins>{after || 'blank'}</ins>
              </div>
            ))}
          </li>
        ))}
        {more > 0 && <li className={textCss.faded}>and {n(more, 'record', 'records')} more</li>}
      </ul>
    </>
  );
}
