import { isIndexed } from '@fiche/core/fields';
import { say } from '@fiche/core/languages';
import type { TableDefinition } from '@fiche/core/tables';
import { Sentence } from '../parts/index.ts';

/** What a table is called, how its records are named, and what it is about. */
export function TitleSentence({
  table,
  onChange,
}: {
  table: TableDefinition;
  onChange(body: object): Promise<boolean>;
}) {
  const titles = table.fields.filter((field) => isIndexed(field));
  const template = table.title?.includes('{') ? table.title : '';
  const labels = (text: string): string =>
    text.replace(/\{([a-z0-9_]+)\}/g, (_all, id) => `{${table.fields.find((field) => field.id === id)?.label ?? id}}`);
  const ids = (text: string): string =>
    text.replace(/\{([^}]*)\}/g, (_all, label: string) => {
      const named = table.fields.find((field) => field.label.toLowerCase() === label.trim().toLowerCase());
      return `{${named?.id ?? label.trim()}}`;
    });
  return (
    <Sentence
      parts={[
        `${say('A record of')} `,
        {
          key: 'label',
          label: say('label of the table'),
          shown: table.label,
          pick: { kind: 'text', current: table.label },
          onSet: (label) => void onChange({ label, revision: table.revision }),
        },
        ` ${say('is named by its')} `,
        {
          key: 'title',
          label: say('field that names a record'),
          side: 'choices',
          shown: template
            ? say('fields together')
            : (table.fields.find((field) => field.id === table.title)?.label ?? 'number'),
          pick: {
            kind: 'options',
            options: titles.map((field) => ({ value: field.id, label: field.label })),
            current: table.title ?? '',
          },
          onSet: (title) => void onChange({ title, revision: table.revision }),
        },
        template ? `${say(', as')} ` : ` ${say('(or by')} `,
        {
          key: 'template',
          label: say('template of the title'),
          shown: template ? labels(template) : say('several fields together'),
          quiet: template === '',
          pick: {
            kind: 'text',
            current: labels(template),
            hint: say('Fields in braces, such as {list}. Enter keeps it.', {
              list: titles
                .slice(0, 2)
                .map((field) => `{${field.label}}`)
                .join(', '),
            }),
          },
          onSet: (text) => void onChange({ title: text.trim() === '' ? null : ids(text), revision: table.revision }),
        },
        template ? `. ${say('It is about:')} ` : `${say('). It is about:')} `,
        {
          key: 'description',
          label: say('description of the table'),
          shown: table.description || say('not said yet'),
          quiet: table.description === '',
          pick: { kind: 'text', current: table.description },
          onSet: (description) => void onChange({ description, revision: table.revision }),
        },
      ]}
    />
  );
}
