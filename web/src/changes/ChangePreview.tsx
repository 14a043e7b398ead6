import type { ChangeView } from '@fiche/core/api';
import type { ChangePlan } from '@fiche/core/changes';
import { say, sayCount } from '@fiche/core/languages';
import { formatCount } from '@fiche/core/office';
import type { TableDefinition } from '@fiche/core/tables';
import Button from '@mui/material/Button';
import { useId, useState } from 'react';
import { Link } from 'react-router-dom';
import { useOffice } from '../client/index.ts';
import { FieldInput, ledgerLineCss, RuledField, sayWith, textCss } from '../parts/index.ts';
import changeCss from './change.module.css';

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
    counts.change > 0 ? say('{change} to change', { change: formatCount(counts.change) }) : '',
    counts.same > 0 ? say('{same} so already', { same: sayCount(counts.same, '{count} is', '{count} are') }) : '',
    counts.refused > 0 ? say('{refused} cannot be changed', { refused: formatCount(counts.refused) }) : '',
  ].filter((part) => part !== '');
  return (
    <section className={changeCss.preview} aria-label={say('What the check found')}>
      <p role="status">
        {sayWith('{name} {list}. Nothing is written yet.', {
          name: (
            <strong>
              {say('{found} checked:', { found: sayCount(counts.found, '{count} record', '{count} records') })}
            </strong>
          ),
          list: found.join(', ') || say('none to change'),
        })}
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
          label={say('{message} Reason for {count}', {
            message,
            count: sayCount(count, '{count} record', '{count} records'),
          })}
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
        {say('Check again with the {count}', { count: sayCount(asked.length, 'reason', 'reasons') })}
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
      <h3 className={changeCss.part}>{say('Cannot be changed')}</h3>
      <ul className={changeCss.reasons}>
        {change.reasons.map(({ message, count }) => (
          <li key={message}>
            {message} <span className={textCss.faded}>({sayCount(count, '{count} record', '{count} records')})</span>
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
        {more > 0 && (
          <li className={textCss.faded}>
            {say('and {more} more', { more: sayCount(more, '{count} record', '{count} records') })}
          </li>
        )}
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
      <h3 className={changeCss.part}>{say('What changes')}</h3>
      <ul className={changeCss.records}>
        {change.changed.map(({ record, title, changes }) => (
          <li key={record}>
            <Link to={`/${cabinet.id}/tables/${table.id}/${record}`}>{title}</Link>
            {changes.map(({ field, label, before, after }) => (
              <div key={field} className={ledgerLineCss.change}>
                {label}: <del>{before || say('blank')}</del> <span aria-hidden="true">→</span>
                <span className={textCss.visuallyHidden}>{say('becomes')}</span> <ins>{after || say('blank')}</ins>
              </div>
            ))}
          </li>
        ))}
        {more > 0 && (
          <li className={textCss.faded}>
            {say('and {more} more', { more: sayCount(more, '{count} record', '{count} records') })}
          </li>
        )}
      </ul>
    </>
  );
}
