import { linksOne, linksSeveral } from '@fiche/core/fields';
import { say } from '@fiche/core/languages';
import { cardLines, fieldAtPath, type TableDefinition, typeOf } from '@fiche/core/tables';
import DownIcon from '@mui/icons-material/ArrowDownward';
import UpIcon from '@mui/icons-material/ArrowUpward';
import RemoveIcon from '@mui/icons-material/Close';
import IconButton from '@mui/material/IconButton';
import { useOffice } from '../client/index.ts';
import { Sentence, type SlotOption } from '../parts/index.ts';
import cardLayoutCss from './cardLayout.module.css';
import { useTableWork } from './useTableWork.tsx';

const MOST = 40;

/** What a reference card of a table’s records shows, in order: laid out once, placed in any form that links here. */
export function CardLayout({ table }: { table: TableDefinition }) {
  const { tables } = useOffice();
  const { change } = useTableWork();
  const lines = cardLines(tables, table);
  const set = (card: readonly string[]): void => {
    void change('PATCH', `/api/tables/${table.id}`, { card, revision: table.revision });
  };
  const paths = lines.map((line) => line.path);
  const options: SlotOption[] = table.fields
    .flatMap((field): SlotOption[] => {
      const target = linksOne(field) ? tables.get(String(field.settings.table)) : undefined;
      return [
        { value: field.id, label: field.label, detail: say(typeOf(field).word) },
        ...(target?.fields ?? []).map((far) => ({
          value: `${field.id}.${far.id}`,
          label: `${field.label}’s ${far.label}`,
          detail: say('of {label}', { label: target?.label ?? '' }),
        })),
      ];
    })
    .filter((one) => !paths.includes(one.value) && !linksSeveral(fieldAtPath(tables, table.id, one.value)));
  const move = (at: number, to: number): string[] => {
    const next = [...paths];
    const [moved] = next.splice(at, 1);
    if (moved !== undefined) next.splice(to, 0, moved);
    return next;
  };
  return (
    <>
      <ol className={cardLayoutCss.layout}>
        {lines.map((line, at) => (
          <li key={line.path}>
            <span>{line.label}</span>
            <span>
              <IconButton
                aria-label={say('Move {label} up', { label: line.label })}
                disabled={at === 0}
                onClick={() => set(move(at, at - 1))}
              >
                <UpIcon />
              </IconButton>{' '}
              <IconButton
                aria-label={say('Move {label} down', { label: line.label })}
                disabled={at === lines.length - 1}
                onClick={() => set(move(at, at + 1))}
              >
                <DownIcon />
              </IconButton>{' '}
              <IconButton
                aria-label={say('Remove {label} from the card', { label: line.label })}
                onClick={() => set(paths.filter((path) => path !== line.path))}
              >
                <RemoveIcon />
              </IconButton>
            </span>
          </li>
        ))}
      </ol>
      {lines.length < MOST && (
        <Sentence
          parts={[
            lines.length === 0 ? `${say('It shows nothing yet: add')} ` : `${say('It also shows')} `,
            {
              key: 'add',
              label: say('column for the reference card'),
              side: 'choices',
              shown: say('a column'),
              pick: { kind: 'options', options },
              onSet: (path) => set([...paths, path]),
            },
            '.',
          ]}
        />
      )}
    </>
  );
}
