import type { ImportView, TaskView } from '@fiche/core/api';
import type { ImportPlan, Reading } from '@fiche/core/imports';
import { useEffect, useMemo, useRef, useState } from 'react';
import { Link, useSearchParams } from 'react-router-dom';
import { cancelTask, ServerProblem, send, sendFile, useOffice, useRefreshCabinet, useTask } from '../client/index.ts';
import { Card, CardSection, Progress, Sentence, useSay } from '../parts/index.ts';
import { ColumnSentences } from './ColumnSentences.tsx';
import { type LinkProposal, proposePlan } from './plan.ts';
import { type Looked, useLook } from './useLook.ts';
import { Verdict } from './Verdict.tsx';

const NOTHING_SAID: Partial<Reading> = {};

interface Chosen {
  readonly file: Blob;
  readonly name: string;
}

/** Brings a file in: what it is, where its columns go, what every row says, and then the rows. On one page, in this order. */
export function ImportPage() {
  const { cabinet, tables, may } = useOffice();
  const [search] = useSearchParams();
  const [chosen, setChosen] = useState<Chosen>();
  const [said, setSaid] = useState<Partial<Reading>>(NOTHING_SAID);
  const [into, setInto] = useState(search.get('into') ?? '');
  const { looked, wrong, share } = useLook(chosen?.file, said);
  const choose = (file: Blob, name: string): void => {
    setSaid(NOTHING_SAID);
    setChosen({ file, name });
  };
  if (!may('add')) return <p className="empty">Your role does not allow adding records.</p>;
  return (
    <div className="page-body import-page">
      <Card title="Bring a file in" mark={chosen && <span className="mono faded">{chosen.name}</span>}>
        <ChooseFile onChoose={choose} />
        {wrong && (
          <p className="card-section ruled-problem" role="alert">
            {wrong}
          </p>
        )}
        {share !== undefined && !looked && (
          <p className="card-section" role="status">
            Looking at it… <progress max={1} value={share} aria-label="Looking at the file" />
          </p>
        )}
        {looked && chosen && (
          <>
            <ReadingSection looked={looked} onSay={(part) => setSaid({ ...said, ...part })} />
            <CardSection label="Where it goes">
              <Sentence
                parts={[
                  'Bring the rows into ',
                  {
                    key: 'into',
                    label: 'table',
                    side: 'choices',
                    shown: into === '' ? 'a new table' : (tables.get(into)?.label ?? 'a new table'),
                    pick: {
                      kind: 'options',
                      options: [
                        ...(may('build') ? [{ value: '', label: 'a new table' }] : []),
                        ...cabinet.tables.map((one) => ({ value: one.id, label: one.label })),
                      ],
                      current: into,
                    },
                    onSet: setInto,
                  },
                  '.',
                ]}
              />
            </CardSection>
            <PlanSection
              key={`${into}-${JSON.stringify(looked.reading)}`}
              chosen={chosen}
              looked={looked}
              into={into}
            />
          </>
        )}
      </Card>
    </div>
  );
}

function ChooseFile({ onChoose }: { onChoose(file: Blob, name: string): void }) {
  const [over, setOver] = useState(false);
  const [pasted, setPasted] = useState('');
  return (
    <CardSection label="">
      <div
        className={`drop-place${over ? ' over' : ''}`}
        onDragOver={(event) => {
          event.preventDefault();
          setOver(true);
        }}
        onDragLeave={() => setOver(false)}
        onDrop={(event) => {
          event.preventDefault();
          setOver(false);
          const [file] = event.dataTransfer.files;
          if (file) onChoose(file, file.name);
        }}
      >
        <label className="button">
          Choose a file
          <input
            type="file"
            className="visually-hidden"
            accept=".csv,.tsv,.txt,.xlsx,.json,.jsonl,.ndjson"
            onChange={(event) => {
              const [file] = event.target.files ?? [];
              if (file) onChoose(file, file.name);
            }}
          />
        </label>
        <span className="faded">or drop one here: CSV, XLSX, JSON or JSON Lines, up to 200 MB</span>
        <label className="paste-place">
          <span className="faded">or paste rows from a spreadsheet, with their names on top</span>
          <textarea
            rows={1}
            value={pasted}
            onChange={(event) => setPasted(event.target.value)}
            onPaste={(event) => {
              const text = event.clipboardData.getData('text');
              if (!text.includes('\n')) return;
              event.preventDefault();
              setPasted('');
              onChoose(new Blob([text]), 'pasted rows.txt');
            }}
            onBlur={() => {
              if (pasted.includes('\n')) onChoose(new Blob([pasted]), 'pasted rows.txt');
            }}
          />
        </label>
      </div>
    </CardSection>
  );
}

const SEPARATORS = [
  { value: ',', label: 'commas' },
  { value: ';', label: 'semicolons' },
  { value: '\t', label: 'tabs' },
  { value: '|', label: 'bars' },
];
const ENCODINGS = [
  { value: 'utf-8', label: 'UTF-8' },
  { value: 'windows-1252', label: 'Windows-1252' },
  { value: 'utf-16le', label: 'UTF-16' },
  { value: 'utf-16be', label: 'UTF-16, big end first' },
];
const KINDS = { csv: 'delimited text', xlsx: 'a workbook', json: 'JSON', jsonl: 'JSON Lines' };

/** How the file is read, as found by looking; every part can be set otherwise. */
function ReadingSection({ looked, onSay }: { looked: Looked; onSay(part: Partial<Reading>): void }) {
  const { reading, sheets, top } = looked;
  const rows = top.map((row, at) => ({
    value: String(at),
    label: `row ${at + 1}`,
    detail: row
      .filter((cell) => cell)
      .join(' · ')
      .slice(0, 60),
  }));
  return (
    <CardSection label="How it is read">
      <Sentence
        parts={[
          `It is ${KINDS[reading.kind]}`,
          ...(reading.kind === 'csv'
            ? [
                ' in ',
                {
                  key: 'encoding',
                  label: 'encoding',
                  shown: ENCODINGS.find((one) => one.value === reading.encoding)?.label ?? reading.encoding,
                  pick: { kind: 'options' as const, options: ENCODINGS, current: reading.encoding },
                  onSet: (encoding: string) => onSay({ encoding: encoding as Reading['encoding'] }),
                },
                ', with ',
                {
                  key: 'separator',
                  label: 'separator',
                  shown: SEPARATORS.find((one) => one.value === reading.separator)?.label ?? reading.separator,
                  pick: { kind: 'options' as const, options: SEPARATORS, current: reading.separator },
                  onSet: (separator: string) => onSay({ separator }),
                },
                ' between the cells',
              ]
            : []),
          ...(sheets.length > 0
            ? [
                '; its sheet ',
                {
                  key: 'sheet',
                  label: 'sheet',
                  shown: sheets[reading.sheet - 1] ?? '',
                  pick: {
                    kind: 'options' as const,
                    options: sheets.map((name, at) => ({ value: String(at + 1), label: name })),
                    current: String(reading.sheet),
                  },
                  onSet: (sheet: string) => onSay({ sheet: Number(sheet), header: undefined }),
                },
              ]
            : []),
          ...(reading.kind === 'csv' || reading.kind === 'xlsx'
            ? [
                '; its columns are named in ',
                {
                  key: 'header',
                  label: 'row of names',
                  shown: `row ${reading.header + 1}`,
                  pick: { kind: 'options' as const, options: rows, current: String(reading.header) },
                  onSet: (header: string) => onSay({ header: Number(header) }),
                },
              ]
            : []),
          '.',
        ]}
      />
    </CardSection>
  );
}

/** The columns and what becomes of the rows; then the check, and the writing. */
function PlanSection({ chosen, looked, into }: { chosen: Chosen; looked: Looked; into: string }) {
  const { cabinet, tables } = useOffice();
  const refresh = useRefreshCabinet();
  const say = useSay();
  const target = tables.get(into);
  const [label, setLabel] = useState(
    chosen.name
      .replace(/\.[a-z]+$/i, '')
      .replaceAll(/[_-]+/g, ' ')
      .slice(0, 60),
  );
  const [links, setLinks] = useState<readonly LinkProposal[]>([]);
  const proposed = useMemo(
    () => proposePlan(looked, tables, target, label, links),
    [looked, tables, target, label, links],
  );
  const [changed, setChanged] = useState<ImportPlan>();
  const plan = changed ? { ...changed, into: proposed.into } : proposed;
  const [received, setReceived] = useState<ImportView>();
  const [sent, setSent] = useState<number>();
  const [task, setTask] = useState<TaskView>();
  const [done, setDone] = useState<TaskView>();
  const [trouble, setTrouble] = useState('');
  const abort = useRef<AbortController>(undefined);

  // Which columns name records that are there.
  useEffect(() => {
    if (target) return;
    const columns = looked.columns
      .filter((column) => ['text', 'choice'].includes(column.guess.type))
      .map((column) => ({ name: column.name, cells: [...column.words] }));
    send<{ links: LinkProposal[] }>('POST', `/api/cabinets/${cabinet.id}/imports/links`, {
      columns: columns.slice(0, 200),
    })
      .then((answer) => setLinks(answer.links))
      .catch(() => undefined);
  }, [looked, target, cabinet.id]);

  const base = `/api/cabinets/${cabinet.id}/imports`;
  const following = useTask(cabinet.id, task, (over) => {
    setTask(undefined);
    if (over.state !== 'done') {
      setTrouble(over.message ?? 'It was not done.');
      return;
    }
    setDone(over);
    void refresh();
  });
  const change = (next: ImportPlan): void => {
    setChanged(next);
    setDone(undefined);
    setTrouble('');
  };
  const check = async (): Promise<void> => {
    setTrouble('');
    setDone(undefined);
    try {
      let view = received;
      if (!view) {
        abort.current = new AbortController();
        setSent(0);
        view = await sendFile<ImportView>(
          `${base}?file=${encodeURIComponent(chosen.name)}`,
          chosen.file,
          setSent,
          abort.current.signal,
        );
        setReceived(view);
      }
      setSent(undefined);
      setTask(await send<TaskView>('POST', `${base}/${view.id}/check`, { plan }));
    } catch (error) {
      setSent(undefined);
      setTrouble(
        error instanceof ServerProblem && error.document.errors.length > 0
          ? error.document.errors.map((one) => one.message).join(' ')
          : (error as Error).message,
      );
    }
  };
  const run = async (rows: 'all' | 'good'): Promise<void> => {
    try {
      setTask(await send<TaskView>('POST', `${base}/${received?.id}/run`, { rows }));
    } catch (error) {
      say((error as Error).message);
    }
  };
  const written = done?.kind === 'writeImport' ? done : undefined;
  const busy = task !== undefined || sent !== undefined;
  return (
    <>
      <ColumnSentences looked={looked} plan={plan} target={target} label={label} onLabel={setLabel} onChange={change} />
      <footer className="card-foot">
        {sent !== undefined && (
          <div className="progress" role="status">
            Sending… <progress max={1} value={sent} aria-label="Sending the file" />
            <button type="button" className="button plain" onClick={() => abort.current?.abort()}>
              Cancel
            </button>
          </div>
        )}
        {following && task && <Progress task={following} onCancel={() => void cancelTask(cabinet.id, task.id)} />}
        {trouble && (
          <span className="ruled-problem" role="alert">
            {trouble}
          </span>
        )}
        {done?.kind === 'checkImport' && received && !busy && (
          <Verdict cabinet={cabinet.id} id={received.id} counts={done.outcome as never} onRun={run} />
        )}
        {written && (
          <span className="verified" role="status">
            ✓ {chosen.name} is brought in.{' '}
            <Link to={`/${cabinet.id}/tables/${String(written.outcome?.table)}`}>See the records</Link>
          </span>
        )}
        {!written && (
          <div className="end">
            <button
              type="button"
              className={`button${done ? '' : ' main'}`}
              disabled={busy}
              onClick={() => void check()}
            >
              {done ? 'Check again' : 'Check every row'}
            </button>
          </div>
        )}
      </footer>
    </>
  );
}
