import { say } from '@fiche/core/languages';
import { ACTION_LABELS, ACTIONS, type Action, type RoleDefinition } from '@fiche/core/rights';
import type { TableDefinition } from '@fiche/core/tables';
import Button from '@mui/material/Button';
import Table from '@mui/material/Table';
import TableBody from '@mui/material/TableBody';
import TableCell from '@mui/material/TableCell';
import TableHead from '@mui/material/TableHead';
import TableRow from '@mui/material/TableRow';
import { clsx } from 'clsx';
import { useState } from 'react';
import { useOffice } from '../client/index.ts';
import { pageCss, SelectField, sayWith, textCss } from '../parts/index.ts';
import { ConditionSentences, narrowingSides } from '../sentences/index.ts';
import { RoleFields } from './RoleFields.tsx';
import { asOthers, choiceOf, choicesFor, type ExtentChoice, extentOf, rightsShown, withExtent } from './roleDraft.ts';
import rolePageCss from './rolePage.module.css';

interface RoleGridProps {
  readonly role: RoleDefinition;
  /** What the server refused, by path: `tables.quay_stays.see`. */
  readonly problems: Readonly<Record<string, string>>;
  onChange(role: RoleDefinition): void;
}

const CHOICE_WORDS: Readonly<Record<ExtentChoice, string>> = { none: 'none', own: 'own', where: 'where…', all: 'all' };

/** What a role may do with the records of each table: tables down, actions across. */
export function RoleGrid(props: RoleGridProps) {
  const { cabinet } = useOffice();
  if (props.role.rights.includes('build'))
    return (
      <p className={rolePageCss.builds}>
        {say(
          'Whoever builds tables and forms sees and may do everything with the records of every table: rules and types are tried on all of them.',
        )}
      </p>
    );
  const tables = cabinet.tables.filter((table) => table.kind === 'records' && !table.archived);
  return (
    <>
      <h2 className={pageCss.partTitle}>{say('Records')}</h2>
      <p className={textCss.faded}>
        {sayWith('{name}: records that they have added. {other}: records that a condition names. {includes}', {
          name: <em>{say('own')}</em>,
          other: <em>{say('where…')}</em>,
          includes: props.role.rights.includes('erase') && say('Whoever erases records sees and exports all of them.'),
        })}
      </p>
      <div className={clsx(pageCss.listCard, rolePageCss.grid)}>
        <Table className={pageCss.list} aria-label={say('Rights to records')}>
          <TableHead>
            <TableRow>
              <TableCell scope="col">{say('Table')}</TableCell>
              {ACTIONS.map((action) => (
                <TableCell key={action} scope="col">
                  {say(ACTION_LABELS[action])}
                </TableCell>
              ))}
              <TableCell scope="col">{say('Fields')}</TableCell>
            </TableRow>
          </TableHead>
          <TableBody>
            {tables.map((table) => (
              <TableRights key={table.id} {...props} table={table} />
            ))}
            <RightsRow {...props} table={null} />
          </TableBody>
        </Table>
      </div>
    </>
  );
}

/** The row of a table, the conditions that it names records by, and its fields where they are open. */
function TableRights(props: RoleGridProps & { readonly table: TableDefinition }) {
  const { role, table } = props;
  const [open, setOpen] = useState(false);
  const rights = rightsShown(role, table.id);
  const conditions = ACTIONS.filter((action) => typeof rights[action] === 'object');
  return (
    <>
      <RightsRow {...props} open={open} onOpen={() => setOpen(!open)} />
      {conditions.map((action) => (
        <ConditionRow key={action} {...props} action={action} />
      ))}
      {open && (
        <TableRow>
          <TableCell className={rolePageCss.under} />
          <TableCell colSpan={ACTIONS.length + 1}>
            <RoleFields role={role} table={table} onChange={props.onChange} />
          </TableCell>
        </TableRow>
      )}
    </>
  );
}

function RightsRow({
  role,
  table,
  open,
  onOpen,
  onChange,
}: RoleGridProps & { readonly table: TableDefinition | null; readonly open?: boolean; onOpen?(): void }) {
  const id = table?.id ?? null;
  const rights = rightsShown(role, id);
  const own = id !== null && role.tables[id] !== undefined;
  const name = table?.label ?? say('All other tables');
  const limited = Object.keys(rights.fields).length;
  return (
    <TableRow className={clsx(id !== null && !own && rolePageCss.asOthers)}>
      <TableCell component="th" scope="row">
        {name}
        {own && (
          <Button
            variant="text"
            className={rolePageCss.back}
            aria-label={say('{name}: as all other tables', { name })}
            onClick={() => onChange(asOthers(role, id))}
          >
            {say('as the others')}
          </Button>
        )}
        {id === null && <div className={textCss.faded}>{say('and those made later')}</div>}
      </TableCell>
      {ACTIONS.map((action) => (
        <TableCell key={action} data-label={say(ACTION_LABELS[action])}>
          <SelectField
            hiddenLabel
            label={`${name}: ${say(ACTION_LABELS[action])}`}
            value={choiceOf(rights[action])}
            options={choicesFor(action, id !== null).map((value) => ({ value, label: CHOICE_WORDS[value] }))}
            onChange={(value) => onChange(withExtent(role, id, action, extentOf(value as ExtentChoice)))}
          />
        </TableCell>
      ))}
      <TableCell data-label={onOpen && say('Fields')}>
        {onOpen && (
          <Button variant="text" aria-expanded={open} aria-label={say('Fields of {name}', { name })} onClick={onOpen}>
            {limited === 0 ? say('all as they are') : say('{limited} limited', { limited })}
          </Button>
        )}
      </TableCell>
    </TableRow>
  );
}

/** The sentence of a condition: `See Stays whose Harbour is Gannet Quay.` */
function ConditionRow({
  role,
  table,
  action,
  problems,
  onChange,
}: RoleGridProps & { readonly table: TableDefinition; readonly action: Action }) {
  const { tables } = useOffice();
  const extent = rightsShown(role, table.id)[action];
  if (typeof extent !== 'object') return null;
  const problem = problems[`tables.${table.id}.${action}`];
  return (
    <TableRow>
      <TableCell className={rolePageCss.under} />
      <TableCell colSpan={ACTIONS.length + 1} className={rolePageCss.sentence}>
        <ConditionSentences
          sides={narrowingSides(tables, table.id, [])}
          where={extent}
          lead={[`${say('{action} {label} whose', { action: say(ACTION_LABELS[action]), label: table.label })} `]}
          addLabel={say('+ Condition for {action}', { action: say(ACTION_LABELS[action]) })}
          starts={extent.of.length === 0}
          onChange={(where) => onChange(withExtent(role, table.id, action, where))}
        />
        {problem && (
          <p className={textCss.problem} role="alert">
            {problem}
          </p>
        )}
      </TableCell>
    </TableRow>
  );
}
