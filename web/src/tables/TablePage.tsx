import { say } from '@fiche/core/languages';
import type { TableDefinition } from '@fiche/core/tables';
import Button from '@mui/material/Button';
import Tab from '@mui/material/Tab';
import Tabs from '@mui/material/Tabs';
import { clsx } from 'clsx';
import { useState } from 'react';
import { Link, useParams, useSearchParams } from 'react-router-dom';
import { useOffice } from '../client/index.ts';
import { pageCss, textCss } from '../parts/index.ts';
import { RipplesTab } from '../ripples/index.ts';
import { RecordsTab } from '../views/index.ts';
import { ArchivedTable } from './ArchiveTable.tsx';
import { CardLayout } from './CardLayout.tsx';
import { CombinationsTab } from './CombinationsTab.tsx';
import { FieldsTab } from './FieldsTab.tsx';
import { RulesTab } from './RulesTab.tsx';
import tablePageCss from './tablePage.module.css';
import { UseList } from './UseList.tsx';
import { useTableWork } from './useTableWork.tsx';

/** One table: its records, and for builders its fields, rules and reference card. */
export function TablePage() {
  const { cabinet, tables, may } = useOffice();
  const { table: id = '' } = useParams();
  const [search, setSearch] = useSearchParams();
  const [sheetPlace, setSheetPlace] = useState<HTMLElement | null>(null);
  const table = tables.get(id);
  if (!table) return <p className={pageCss.empty}>{say('This table is not there any more.')}</p>;
  const path = `/${cabinet.id}/tables/${id}`;
  const list = table.kind === 'list';
  const tabs = tabsOf(table, may('build'));
  const open = tabs.find((tab) => search.has(tab.key)) ?? tabs[0];
  return (
    <div className={pageCss.withSheet}>
      <div className={clsx(pageCss.body, open?.key === 'records' && tablePageCss.records)}>
        <div className={pageCss.head}>
          <h1>{table.label}</h1>
          <span className={clsx(textCss.mono, textCss.faded)}>{table.id}</span>
          <span className={clsx(textCss.faded, tablePageCss.about)}>{table.description}</span>
          <div className={pageCss.end}>
            {list && may('build') && !table.archived && <UseList list={table} />}
            {!table.archived && table.fields.length > 0 && (
              <>
                {may('import', id) && (
                  <Button variant="text" component={Link} to={`/${cabinet.id}/imports/new?into=${id}`}>
                    {say('Import')}
                  </Button>
                )}
                {may('add', id) && (
                  <Button component={Link} to={`${path}/new`}>
                    {say('New record')}
                  </Button>
                )}
              </>
            )}
          </div>
        </div>
        {table.archived && <ArchivedTable table={table} mayRestore={may('build')} />}
        {tabs.length > 1 && (
          <Tabs
            className={tablePageCss.tabs}
            value={open?.key}
            aria-label={say('Parts of {label}', { label: table.label })}
            variant="scrollable"
            scrollButtons={false}
            onChange={(_event, key: string) => setSearch(key === tabs[0]?.key ? {} : { [key]: '' })}
          >
            {tabs.map((tab) => (
              <Tab key={tab.key} value={tab.key} label={tab.label} id={`tab-${tab.key}`} aria-controls="tab-panel" />
            ))}
          </Tabs>
        )}
        <div
          id="tab-panel"
          className={clsx(tablePageCss.panel, open?.key === 'records' && tablePageCss.recordsPanel)}
          {...(tabs.length > 1 ? { role: 'tabpanel', 'aria-labelledby': `tab-${open?.key}` } : {})}
        >
          {open?.key === 'records' ? (
            <RecordsTab
              key={id}
              table={table}
              path={path}
              linking={search.get('linking') ?? undefined}
              sheetPlace={sheetPlace}
            />
          ) : (
            <BuilderTab tab={open?.key} table={table} />
          )}
        </div>
      </div>
      <div ref={setSheetPlace} className={tablePageCss.sheetPlace} />
    </div>
  );
}

/** The tabs of a table: its records, and for builders what it is made of. */
function tabsOf(table: TableDefinition, builds: boolean): readonly { readonly key: string; readonly label: string }[] {
  const list = table.kind === 'list';
  const counted = (label: string, count: number): string => (count > 0 ? `${label} ${count}` : label);
  return [
    ...(list ? [{ key: 'combinations', label: say('Combinations') }] : []),
    { key: 'records', label: say('Records') },
    ...(builds ? [{ key: 'fields', label: counted(list ? say('Levels') : say('Fields'), table.fields.length) }] : []),
    ...(builds && !list
      ? [
          { key: 'rules', label: counted(say('Rules'), table.rules.length + table.constraints.length) },
          { key: 'ripples', label: counted(say('Ripples'), table.ripples?.length ?? 0) },
          { key: 'card', label: say('Reference card') },
        ]
      : []),
  ];
}

/** What a table is made of: one of its tabs besides the records. */
function BuilderTab({ tab, table }: { readonly tab: string | undefined; readonly table: TableDefinition }) {
  const { change } = useTableWork();
  switch (tab) {
    case 'combinations':
      return <CombinationsTab table={table} />;
    case 'fields':
      return <FieldsTab table={table} />;
    case 'rules':
      return <RulesTab table={table} />;
    case 'ripples':
      return (
        <RipplesTab
          table={table}
          onSet={(ripples) => change('PATCH', `/api/tables/${table.id}`, { ripples, revision: table.revision })}
        />
      );
    case 'card':
      return (
        <section className={tablePageCss.cardTab}>
          <p className={textCss.faded}>
            {say(
              'What a form shows of a record of {label} as soon as it is chosen: read-only, always current. Laid out here once, placed in any form that links here.',
              { label: table.label },
            )}
          </p>
          <CardLayout table={table} />
        </section>
      );
    default:
      return null;
  }
}
