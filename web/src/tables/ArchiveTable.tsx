import { say } from '@fiche/core/languages';
import type { TableDefinition } from '@fiche/core/tables';
import Alert from '@mui/material/Alert';
import Button from '@mui/material/Button';
import { send, useRefreshCabinet } from '../client/index.ts';
import { useNotify } from '../parts/index.ts';
import { AskedAct } from '../uses/index.ts';

/** Archives a table or brings it back, and says what that means or what stands against it. */
function useArchive(table: TableDefinition): (archived: boolean) => Promise<void> {
  const refresh = useRefreshCabinet();
  const notify = useNotify();
  const archive = async (archived: boolean): Promise<void> => {
    try {
      await send('PATCH', `/api/tables/${table.id}`, { archived });
      await refresh();
      notify(
        archived
          ? say('{label} is archived: nothing is written into it.', { label: table.label })
          : say('{label} is back in use.', { label: table.label }),
        archived ? () => void archive(false) : undefined,
      );
    } catch (error) {
      notify((error as Error).message);
    }
  };
  return archive;
}

/** Takes a table out of use, with its records; the server refuses while something needs it. */
export function ArchiveTable({ table }: { table: TableDefinition }) {
  const archive = useArchive(table);
  return (
    <AskedAct
      label={table.kind === 'list' ? say('Archive list') : say('Archive table')}
      thing={{ table: table.id }}
      holding={say('are in it')}
      refusedBy={['form', 'table']}
      act={() => void archive(true)}
    />
  );
}

/** Says on the page of an archived table that it is one, and restores it. */
export function ArchivedTable({ table, mayRestore }: { table: TableDefinition; mayRestore: boolean }) {
  const archive = useArchive(table);
  return (
    <Alert severity="info" action={mayRestore && <Button onClick={() => void archive(false)}>{say('Restore')}</Button>}>
      {say('{label} is archived: its records can be read, and nothing is written into it.', { label: table.label })}
    </Alert>
  );
}
