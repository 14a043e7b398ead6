import type { LineView } from '@fiche/core/api';
import { say } from '@fiche/core/languages';
import { Link } from 'react-router-dom';
import ledgerLineCss from './ledgerLine.module.css';
import { showMoment } from './Stamp.tsx';
import textCss from './text.module.css';

const WORDS: Record<LineView['kind'], string> = {
  add: say('Record added'),
  change: say('Changed'),
  archive: say('Archived'),
  restore: say('Restored'),
  erase: say('Erased'),
};

/** What a line says changed: one line a field, before and after. */
export function Changes({ line, limit = 40 }: { line: LineView; limit?: number }) {
  if (line.kind === 'archive' || line.kind === 'restore') return <div>{WORDS[line.kind]}</div>;
  if (line.kind === 'add' && line.change === null) {
    const named = line.changes.filter((change) => change.after !== '' && change.after !== line.title).slice(0, 2);
    return (
      <div className={ledgerLineCss.change}>
        {say('{table}, {count} fields', {
          table: line.table === null ? say('Added') : WORDS.add,
          count: line.changes.length,
        })}
        {named.length > 0 && (
          <span className={textCss.faded}>
            {' '}
            ({named.map((change) => `${change.label} ${short(change.after)}`).join(', ')})
          </span>
        )}
      </div>
    );
  }
  return line.changes.slice(0, limit).map((change) => (
    <div className={ledgerLineCss.change} key={change.field}>
      {change.label}:{' '}
      {line.kind !== 'add' && (
        <>
          <del>{short(change.before) || say('blank')}</del> <span aria-hidden="true">→</span>
          <span className={textCss.visuallyHidden}>{say('became')}</span>{' '}
        </>
      )}
      <ins>{short(change.after) || say('blank')}</ins>
    </div>
  ));
}

const short = (text: string): string => (text.length > 90 ? `${text.slice(0, 88)}…` : text);

/**
 * Through what a line was written, and the reasons that were given, a line each. `tables` is the address of the cabinet’s tables:
 * with it what ripples wrote, and what they followed, are links.
 */
export function ThroughWords({ line, tables }: { line: LineView; tables?: string }) {
  return (
    <div className={ledgerLineCss.through}>
      {line.through}
      {line.reasons.map((one) => (
        <div key={one} className={ledgerLineCss.reason}>
          {one}
        </div>
      ))}
      {line.follows && (
        <div>
          {say('follows the save of')} <RecordLink named={line.follows} tables={tables} />
        </div>
      )}
      {line.wrote.length > 0 && (
        <div>
          {say('also wrote')}{' '}
          {line.wrote.map((named, at) => (
            <span key={`${named.table} ${named.record}`}>
              {at > 0 && ', '}
              <RecordLink named={named} tables={tables} />
            </span>
          ))}
        </div>
      )}
    </div>
  );
}

function RecordLink({ named, tables }: { named: LineView['wrote'][number]; tables: string | undefined }) {
  const words = `${named.what}: ${named.title}`;
  return tables === undefined ? words : <Link to={`${tables}/${named.table}/${named.record}`}>{words}</Link>;
}

/** One line of a record's history: time and account in plum, then what changed. */
export function LedgerLine({ line }: { line: LineView }) {
  return (
    <div className={ledgerLineCss.line}>
      <div className={ledgerLineCss.when}>
        {showMoment(line.at)} · {line.account}
      </div>
      <ThroughWords line={line} />
      <Changes line={line} />
    </div>
  );
}
