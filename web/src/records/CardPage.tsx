import type { Unsaved } from '@fiche/core/entry';
import { say } from '@fiche/core/languages';
import { useQuery } from '@tanstack/react-query';
import { useEffect, useRef, useState } from 'react';
import { useLocation, useNavigate } from 'react-router-dom';
import { send, useOffice } from '../client/index.ts';
import { pageCss, Waiting } from '../parts/index.ts';
import { PastCard, usePast } from '../past/index.ts';
import type { CardPageProps, PlacedRecord } from './card.ts';
import type { Erasing } from './EraseRecord.tsx';
import { FilledCard } from './FilledCard.tsx';
import type { StartedWith } from './filledCardProps.ts';
import { rememberRecord } from './recentRecords.ts';
import { findWork } from './unsavedWork.ts';
import { useCardKeys } from './useCardKeys.ts';

/** One card at a time: enter, correct, archive, go to the next, look at the history. */
export function CardPage(props: CardPageProps) {
  const { record, form, formId, version, base, path } = props;
  const { session, cabinet } = useOffice();
  const { asOf } = usePast();
  const { state: sent, key: visit } = useLocation();
  const reads = new URLSearchParams({
    ...(formId === undefined ? {} : { form: formId }),
    ...(formId === undefined || version === null ? {} : { version: String(version) }),
    ...(props.view == null ? {} : { view: String(props.view) }),
    ...(props.view == null || props.asked == null ? {} : { asked: props.asked }),
  });
  const query = useQuery({
    queryKey: ['record', form.table.id, record],
    queryFn: () =>
      send<PlacedRecord>('GET', `/api/tables/${form.table.id}/records/${record}${reads.size > 0 ? `?${reads}` : ''}`),
    enabled: record !== undefined,
    staleTime: 0,
    // A card is always opened as it is now, never as it was when last looked at.
    gcTime: 0,
  });
  const [round, setRound] = useState<{ n: number; kept?: Unsaved }>({ n: 0 });
  const [historyOpen, setHistoryOpen] = useState(false);
  const [erasing, setErasing] = useState<Erasing>();
  const [kept, setKept] = useState<ReadonlySet<string>>(new Set());
  const focus = useRef<string>(undefined);
  const typing = useRef<() => Unsaved | undefined>(undefined);
  const place = `${session.login}:${base}:${record ?? 'new'}`;
  const copy = (sent as { copy?: Unsaved } | null)?.copy;
  const shared = { ...props, place, historyOpen, setHistoryOpen, erasing, setErasing, kept, setKept, focus, typing };
  const opened = query.data;
  useEffect(() => {
    if (opened)
      rememberRecord(session.login ?? '', cabinet.id, {
        path: `${path.slice(cabinet.id.length + 2)}/${opened.id}`,
        title: opened.title,
        through: form.definition.label,
        at: new Date().toISOString(),
      });
  }, [opened, session.login, cabinet.id, path, form.definition.label]);
  if (record !== undefined && asOf !== undefined)
    return <PastCard table={form.table.id} record={record} formId={formId} asOf={asOf} />;
  if (record === undefined)
    return (
      <FilledCard
        key={`new-${visit}-${round.n}`}
        {...shared}
        start={startOf(place, round.n === 0 ? copy : undefined, round.kept)}
        onAnother={(kept) => setRound({ n: round.n + 1, kept })}
      />
    );
  if (query.isError)
    return (
      <p className={pageCss.empty} role="alert">
        {query.error.message}
      </p>
    );
  if (!query.data) return <ComingCard {...props} />;
  return (
    <FilledCard
      key={`${record}-${query.data.version}-${query.dataUpdatedAt}`}
      {...shared}
      opened={query.data}
      start={startOf(place, typing.current?.())}
      onAnother={() => undefined}
    />
  );
}

/** A card on its way: whoever wants a blank one instead need not wait for it. */
function ComingCard({ form, path }: CardPageProps) {
  const { may } = useOffice();
  const navigate = useNavigate();
  const mayAdd = may('add', form.table.id) && form.definition.may.add;
  useCardKeys({ form, blank: mayAdd ? () => navigate(`${path}/new`) : undefined });
  return <Waiting what={say('Fetching the card…')} />;
}

/** What a card begins with: a copy, what was kept from the card before, or else the work that was left here unsaved. */
function startOf(place: string, copy?: Unsaved, kept?: Unsaved): StartedWith | undefined {
  if (copy) return { unsaved: copy };
  if (kept) return { unsaved: kept, begun: true };
  const left = findWork(place);
  return left && { unsaved: left.unsaved, left };
}
