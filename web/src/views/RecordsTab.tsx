import type { ViewView } from '@fiche/core/api';
import { questionsOf } from '@fiche/core/conditions';
import { say } from '@fiche/core/languages';
import { civilNow } from '@fiche/core/office';
import type { TableDefinition } from '@fiche/core/tables';
import { AS_LIST, type Listing } from '@fiche/core/views';
import Alert from '@mui/material/Alert';
import { useState } from 'react';
import { createPortal } from 'react-dom';
import { useSearchParams } from 'react-router-dom';
import { useOffice } from '../client/index.ts';
import { SelectField, textCss, Waiting } from '../parts/index.ts';
import { PastBar, PastTables, usePast } from '../past/index.ts';
import { recordFilterOf } from '../records/index.ts';
import { ConditionSentences, narrowingSides } from '../sentences/index.ts';
import { AskedValues } from './AskedValues.tsx';
import { answered, withAnswersIn } from './answersInAddress.ts';
import { CardBeside, useCardBeside } from './CardBeside.tsx';
import { ListActions } from './ListActions.tsx';
import { ListedGrid } from './ListedGrid.tsx';
import { ListSheet } from './ListSheet.tsx';
import listingCss from './listing.module.css';
import { exportedRecords, useSelection } from './listSelection.ts';
import type { OpenSheet } from './openSheet.ts';
import { ShownAs } from './ShownAs.tsx';
import { ShownRecords } from './ShownRecords.tsx';
import { NO_VIEW, useListing } from './useListing.ts';
import { useViews } from './useViews.ts';

interface Props {
  readonly table: TableDefinition;
  readonly path: string;
  /** `field:id`: only the records whose link points there. */
  readonly linking?: string;
  /** Where on the page a sheet opens. */
  readonly sheetPlace: HTMLElement | null;
}

/** The records of a table as a view lists them; what is listed is changed here, and saved as a view. */
export function RecordsTab(props: Props) {
  const views = useViews(props.table.id);
  const { asOf } = usePast();
  if (views.error)
    return (
      <p className={textCss.problem} role="alert">
        {views.error.message}
      </p>
    );
  if (!views.views) return <Waiting what={say('Opening the records…')} />;
  const listed = <ListedRecords {...props} views={views} known={views.views} />;
  return asOf === undefined ? listed : <PastTables asOf={asOf}>{listed}</PastTables>;
}

function ListedRecords(
  props: Props & { readonly views: ReturnType<typeof useViews>; readonly known: readonly ViewView[] },
) {
  const { path, linking, sheetPlace, views, known } = props;
  const { tables } = useOffice();
  // As of a moment, as it was defined then.
  const table = tables.get(props.table.id) ?? props.table;
  const { asOf, setAsOf } = usePast();
  const [byClick, setByClick] = useState(false);
  const shown = useListing(table, known, asOf !== undefined);
  const { view, listing } = shown;
  const [sheet, setSheet] = useState<OpenSheet>();
  const [address] = useSearchParams();
  const asked = { ...recordFilterOf(address), ...(linking ? { linking } : {}) };
  const found = answered(listing, address);
  const card = useCardBeside();
  const selecting = useSelection(JSON.stringify([found.filter, asked]));
  const around = {
    before: <ListChoice table={table} known={known} shown={shown} />,
    acts: (
      <ListActions
        onExport={() => setSheet({ kind: 'export' })}
        {...{ table, path, views, shown, sheet, setSheet, byClick, setByClick, card }}
        past={asOf !== undefined}
        onPast={() => setAsOf(civilNow())}
      />
    ),
    filter: <ListHead table={table} shown={shown} />,
  };
  return (
    <>
      {listing.shown.as !== 'list' ? (
        <ShownRecords {...{ table, path, linking, view, ...around }} listing={found} />
      ) : (
        <ListedGrid
          key={linking}
          {...{ table, path, linking, asked, found, shown, selecting, byClick, setSheet, card }}
        >
          {around}
        </ListedGrid>
      )}
      {sheetPlace &&
        createPortal(
          sheet === undefined && card.on && !asOf ? (
            <CardBeside table={table} path={path} view={shown.changed ? undefined : view?.id} card={card} />
          ) : (
            <ListSheet
              {...{ table, views, shown, sheet, setSheet }}
              all={exportedRecords(found, asked)}
              onWritten={selecting.clear}
            />
          ),
          sheetPlace,
        )}
    </>
  );
}

interface ListProps {
  readonly table: TableDefinition;
  readonly shown: ReturnType<typeof useListing>;
}

/** Which view is open, and whether it is shown as a list, a chart or a calendar. */
function ListChoice({ table, known, shown }: ListProps & { readonly known: readonly ViewView[] }) {
  const { view, listing, show, open } = shown;
  return (
    <>
      <ViewPicker known={known} view={view} onOpen={open} />
      <ShownAs
        table={table}
        shown={listing.shown}
        saved={view?.shown ?? AS_LIST}
        onShow={(to) => show({ ...listing, shown: to })}
      />
    </>
  );
}

/** What stands over a list: the moment that is looked at, and its filter. */
function ListHead({ table, shown }: ListProps) {
  const { asOf, setAsOf } = usePast();
  const { view, listing, show, unread } = shown;
  return (
    <>
      {asOf && <PastBar asOf={asOf} onChange={setAsOf} onClose={() => setAsOf(undefined)} />}
      {unread && (
        <Alert severity="info">
          {say('{label} reads a field that was not there then, or was of another type: all records are shown.', {
            label: view?.label ?? '',
          })}
        </Alert>
      )}
      <ListFilter key={view?.id ?? NO_VIEW} {...{ table, listing, show }} />
    </>
  );
}

/** The sentence that says which records are listed, with what it asks each time. */
function ListFilter({
  table,
  listing,
  show,
}: {
  readonly table: TableDefinition;
  readonly listing: Listing;
  show(listing: Listing): void;
}) {
  const { tables } = useOffice();
  const [, setAddress] = useSearchParams();
  return (
    <>
      <AskedValues table={table} filter={listing.filter} />
      <ConditionSentences
        sides={{ ...narrowingSides(tables, table.id, []), asks: true }}
        where={listing.filter}
        lead={[`${say('Show {label} whose', { label: table.label })} `]}
        addLabel={say('+ Filter')}
        onChange={(filter) => {
          // Answers belong to questions by their order.
          if (questionsOf(filter).length !== questionsOf(listing.filter).length)
            setAddress((now) => withAnswersIn(now, []), { replace: true });
          show({ ...listing, filter });
        }}
      />
    </>
  );
}

/** Which view is open: all records, a shared one, or one’s own. */
function ViewPicker({
  known,
  view,
  onOpen,
}: {
  known: readonly ViewView[];
  view: ViewView | undefined;
  onOpen(view: number | undefined): void;
}) {
  if (known.length === 0) return null;
  return (
    <SelectField
      label={say('View')}
      hiddenLabel
      className={listingCss.picker}
      value={view ? String(view.id) : NO_VIEW}
      options={[
        { value: NO_VIEW, label: say('All records') },
        ...known.map((one) => ({
          value: String(one.id),
          label: one.problem === null ? one.label : say('{label} (to mend)', { label: one.label }),
          group: one.shared ? say('Shared views') : say('Your views'),
        })),
      ]}
      onChange={(value) => onOpen(value === NO_VIEW ? undefined : Number(value))}
    />
  );
}
