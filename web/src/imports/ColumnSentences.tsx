import type { ImportColumn, ImportPlan } from '@fiche/core/imports';
import { say } from '@fiche/core/languages';
import type { TableDefinition } from '@fiche/core/tables';
import Table from '@mui/material/Table';
import TableBody from '@mui/material/TableBody';
import TableCell from '@mui/material/TableCell';
import TableHead from '@mui/material/TableHead';
import TableRow from '@mui/material/TableRow';
import { clsx } from 'clsx';
import { useOffice } from '../client/index.ts';
import { CardSection, type Phrase, pageCss, Sentence, textCss } from '../parts/index.ts';
import columnsCss from './columns.module.css';
import { columnWords } from './columnWords.ts';
import { formWords, reasonWords, rowWords } from './rowWords.ts';
import type { Looked } from './useLook.ts';

interface Props {
  readonly looked: Looked;
  readonly plan: ImportPlan;
  readonly target: TableDefinition | undefined;
  readonly label: string;
  onLabel(label: string): void;
  onChange(plan: ImportPlan): void;
}

/** What becomes of the rows, and each column of the file as one sentence, with a few of its cells. */
export function ColumnSentences({ looked, plan, target, label, onLabel, onChange }: Props) {
  const { tables, cabinet } = useOffice();
  // A form that may add, and is published: its rows are those of the table.
  const forms = cabinet.forms.filter(
    (form) => form.table === target?.id && form.liveVersion !== null && !form.archived && form.may.add,
  );
  const set = (at: number, column: ImportColumn): void =>
    onChange({ ...plan, columns: plan.columns.map((one, n) => (n === at ? column : one)) });
  return (
    <CardSection label="">
      <Sentence parts={target ? rowWords(plan, target, onChange) : newTableWords(label, onLabel)} />
      {target && forms.length > 0 && <Sentence parts={formWords(plan, forms, onChange)} />}
      {target?.rules.some((rule) => rule.kind === 'ask') && <Sentence parts={reasonWords(plan, onChange)} />}
      <div className={columnsCss.columns}>
        <Table className={pageCss.list}>
          <TableHead>
            <TableRow>
              <TableCell scope="col">{say('Column of the file')}</TableCell>
              <TableCell scope="col">{say('Such as')}</TableCell>
              <TableCell scope="col">{say('Goes to')}</TableCell>
            </TableRow>
          </TableHead>
          <TableBody>
            {plan.columns.map((column, at) => {
              const seen = looked.columns[at];
              return (
                <TableRow key={column.at}>
                  <TableCell>
                    <strong>{column.name}</strong>
                  </TableCell>
                  <TableCell className={clsx(textCss.faded, columnsCss.samples)}>
                    {seen?.samples.slice(0, 3).join(' · ') || say('all blank')}
                  </TableCell>
                  <TableCell>
                    <Sentence parts={columnWords({ column, seen, target, tables, onSet: (next) => set(at, next) })} />
                  </TableCell>
                </TableRow>
              );
            })}
          </TableBody>
        </Table>
      </div>
    </CardSection>
  );
}

const newTableWords = (label: string, onLabel: (label: string) => void): Phrase => [
  `${say('The new table is called')} `,
  {
    key: 'label',
    label: say('label of the new table'),
    shown: label || say('nothing yet'),
    pick: { kind: 'text', current: label },
    onSet: onLabel,
  },
  '.',
];
