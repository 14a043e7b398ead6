import type { LabelLayoutView } from '@fiche/core/api';
import type { LabelLayout } from '@fiche/core/labels';
import { say } from '@fiche/core/languages';
import type { TableDefinition } from '@fiche/core/tables';
import Button from '@mui/material/Button';
import TextField from '@mui/material/TextField';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { send, useOffice } from '../client/index.ts';
import { SelectField, settingsCss, useNotify } from '../parts/index.ts';

const NEW = '';

interface SavedProps {
  readonly table: TableDefinition;
  readonly layout: LabelLayout;
  readonly kept: LabelLayoutView | undefined;
  onOpen(kept: LabelLayoutView | undefined): void;
}

/** The layouts that are kept for the table: opened, and by who builds saved, renamed and deleted. */
export function SavedLayouts({ table, layout, kept, onOpen }: SavedProps) {
  const url = `/api/tables/${table.id}/label-layouts`;
  const { may } = useOffice();
  const client = useQueryClient();
  const notify = useNotify();
  const { data } = useQuery({
    queryKey: ['label-layouts', table.id],
    queryFn: () => send<{ layouts: LabelLayoutView[] }>('GET', url),
  });
  const layouts = data?.layouts ?? [];
  const changed = kept !== undefined && JSON.stringify(kept.layout) !== JSON.stringify(layout);
  const write = async (work: () => Promise<LabelLayoutView | undefined>, said: string): Promise<boolean> => {
    try {
      onOpen(await work());
      notify(said);
      await client.invalidateQueries({ queryKey: ['label-layouts', table.id] });
      return true;
    } catch (error) {
      notify((error as Error).message);
      return false;
    }
  };
  const keep = (label: string): Promise<boolean> =>
    write(() => send<LabelLayoutView>('POST', url, { label, layout }), say('The labels {label} are saved.', { label }));
  return (
    <>
      {layouts.length > 0 && (
        <SelectField
          label={say('Saved labels')}
          value={kept ? String(kept.id) : NEW}
          options={[
            { value: NEW, label: say('None: as set below') },
            ...layouts.map((one) => ({ value: String(one.id), label: one.label })),
          ]}
          onChange={(id) => onOpen(layouts.find((one) => String(one.id) === id))}
        />
      )}
      {may('build') && kept && (
        <div className={settingsCss.acts}>
          {changed && (
            <Button
              onClick={() =>
                void write(
                  () =>
                    send<LabelLayoutView>('PUT', `${url}/${kept.id}`, {
                      label: kept.label,
                      layout,
                      revision: kept.revision,
                    }),
                  say('The labels {label} are saved.', { label: kept.label }),
                )
              }
            >
              {say('Save {label}', { label: kept.label })}
            </Button>
          )}
          <Button
            variant="text"
            onClick={() =>
              void write(
                async () => {
                  await send('DELETE', `${url}/${kept.id}`);
                  return undefined;
                },
                say('The labels {label} are deleted.', { label: kept.label }),
              )
            }
          >
            {say('Delete {label}', { label: kept.label })}
          </Button>
        </div>
      )}
      {may('build') && <KeepLayout onKeep={keep} />}
    </>
  );
}

/** Keeps what is set under a name; `onKeep` gives whether that went well. */
function KeepLayout({ onKeep }: { onKeep(label: string): Promise<boolean> }) {
  const [naming, setNaming] = useState<string>();
  const keep = async (): Promise<void> => {
    if (naming !== undefined && (await onKeep(naming.trim()))) setNaming(undefined);
  };
  if (naming === undefined)
    return (
      <div className={settingsCss.acts}>
        <Button variant="text" onClick={() => setNaming('')}>
          {say('Save these labels for others')}
        </Button>
      </div>
    );
  return (
    <div className={settingsCss.acts}>
      <TextField
        autoFocus
        label={say('Name')}
        value={naming}
        autoComplete="off"
        helperText={say('Such as Lead owners, addresses.')}
        onChange={(event) => setNaming(event.target.value)}
      />
      <Button disabled={naming.trim() === ''} onClick={() => void keep()}>
        {say('Save')}
      </Button>
      <Button variant="text" onClick={() => setNaming(undefined)}>
        {say('Cancel')}
      </Button>
    </div>
  );
}
