import type { AnswerView } from '@fiche/core/api';
import { say, sayCount } from '@fiche/core/languages';
import { formatCount } from '@fiche/core/office';
import Button from '@mui/material/Button';
import Table from '@mui/material/Table';
import TableBody from '@mui/material/TableBody';
import TableCell from '@mui/material/TableCell';
import TableHead from '@mui/material/TableHead';
import TableRow from '@mui/material/TableRow';
import { useInfiniteQuery } from '@tanstack/react-query';
import { clsx } from 'clsx';
import { Link, useParams } from 'react-router-dom';
import { send, useOffice } from '../client/index.ts';
import { WatchButton } from '../messages/index.ts';
import { pageCss, sayWith, showMoment, textCss, Waiting } from '../parts/index.ts';
import { AnswersChart } from './AnswersChart.tsx';

interface AnswersPart {
  readonly answers: readonly AnswerView[];
  readonly total: number;
  readonly days: readonly { readonly day: string; readonly count: number }[];
}

const PAGE = 50;

/** The answers of a form’s public page: when, which version, from where, and what each made. */
export function AnswersPage() {
  const { form = '' } = useParams();
  const { cabinet, may } = useOffice();
  const listed = cabinet.forms.find((one) => one.id === form);
  const query = useInfiniteQuery({
    queryKey: ['answers', form],
    queryFn: ({ pageParam }) =>
      send<AnswersPart>(
        'GET',
        `/api/forms/${form}/answers?limit=${PAGE}${pageParam === 0 ? '' : `&before=${pageParam}`}`,
      ),
    initialPageParam: 0,
    getNextPageParam: (last) => (last.answers.length < PAGE ? undefined : last.answers.at(-1)?.id),
  });
  if (query.isPending) return <Waiting what={say('Looking for answers…')} />;
  if (query.isError)
    return (
      <p className={pageCss.empty} role="alert">
        {query.error.message}
      </p>
    );
  const { pages: parts } = query.data;
  const answers = parts.flatMap((part) => part.answers);
  const total = parts[0]?.total ?? 0;
  return (
    <div className={pageCss.body}>
      <div className={pageCss.head}>
        <h1>{say('{label}: answers', { label: listed?.label ?? form })}</h1>
        <span role="status">{sayCount(total, '{count} answer', '{count} answers')}</span>
        <div className={pageCss.end}>
          <WatchButton what={{ form }} />
          <Button component={Link} to="../held" relative="path">
            {listed?.held ? say('{held} held', { held: formatCount(listed.held) }) : say('Held answers')}
          </Button>
          {may('build') && (
            <Button component={Link} to="../page" relative="path">
              {say('Page settings')}
            </Button>
          )}
          {may('export') && total > 0 && (
            <Button component="a" href={`/api/forms/${form}/answers.csv`} download>
              {say('Export as CSV')}
            </Button>
          )}
        </div>
      </div>
      {answers.length === 0 ? (
        <p className={clsx(pageCss.empty, pageCss.listCard)}>
          {sayWith('{name} Answers stand here as they arrive; what looks like spam waits under {em}.', {
            name: <strong>{say('Nobody has answered yet.')}</strong>,
            em: <em>{say('Held answers')}</em>,
          })}{' '}
          {listed?.slug && (
            <a href={`/p/${listed.slug}`} target="_blank" rel="noreferrer">
              {say('Open the page')}
            </a>
          )}
        </p>
      ) : (
        <>
          <AnswersChart days={parts[0]?.days ?? []} />
          <div className={pageCss.listCard}>
            <Table className={clsx(pageCss.list, pageCss.cardsOnPhone)} aria-label={say('Answers')}>
              <TableHead>
                <TableRow>
                  <TableCell scope="col">{say('When')}</TableCell>
                  <TableCell scope="col">{say('Reference')}</TableCell>
                  <TableCell scope="col">{say('Came by')}</TableCell>
                  <TableCell scope="col">{say('Records')}</TableCell>
                  <TableCell scope="col">{say('Version')}</TableCell>
                  <TableCell scope="col">{say('Afterwards')}</TableCell>
                </TableRow>
              </TableHead>
              <TableBody>
                {answers.map((one) => (
                  <AnswerRow key={one.id} answer={one} cabinet={cabinet.id} />
                ))}
              </TableBody>
            </Table>
          </div>
          {query.hasNextPage && (
            <p className={pageCss.acts}>
              <Button disabled={query.isFetchingNextPage} onClick={() => void query.fetchNextPage()}>
                {say('Show older answers')}
              </Button>
            </p>
          )}
        </>
      )}
    </div>
  );
}

const DID = { added: '', found: ` ${say('(was there)')}`, changed: ` ${say('(changed)')}` } as const;

function AnswerRow({ answer, cabinet }: { readonly answer: AnswerView; readonly cabinet: string }) {
  const { at, reference, code, link, records, version, held, corrections, correctedAt, consent } = answer;
  const { erasedAt, notErased } = answer;
  const after = [
    ...(held === null ? [] : [say('released from H-{held}', { held })]),
    ...(corrections === 0 || !correctedAt
      ? []
      : [
          say('corrected {corrections}, last {correctedAt}', {
            corrections: sayCount(corrections, 'once', '{count} times'),
            correctedAt: showMoment(correctedAt),
          }),
        ]),
    ...(erasedAt === null
      ? []
      : [
          say('erased {erasedAt}{notErased}', {
            erasedAt: showMoment(erasedAt),
            notErased: notErased === null ? '' : say(', but not {notErased}', { notErased }),
          }),
        ]),
  ];
  return (
    <TableRow>
      <TableCell className={pageCss.when}>{showMoment(at)}</TableCell>
      <TableCell className={textCss.mono}>{reference}</TableCell>
      <TableCell>
        {code !== null
          ? say('code {code}', { code })
          : link !== null
            ? say('personal link L-{link}', { link })
            : say('the page')}
      </TableCell>
      <TableCell>
        {records.map((one, n) => (
          <span key={`${one.table}:${one.record}`}>
            {n > 0 && ', '}
            {one.tableLabel} <Link to={`/${cabinet}/tables/${one.table}/${one.record}`}>{one.title}</Link>
            {DID[one.did]}
          </span>
        ))}
      </TableCell>
      <TableCell>{say('version {version}', { version })}</TableCell>
      <TableCell>
        {after.join('; ')}
        {consent !== null && (
          <span title={consent} className={textCss.faded}>
            {sayWith('{count}agreed to “{value}{more}”', {
              count: after.length > 0 && '; ',
              value: consent.slice(0, 40),
              more: consent.length > 40 && '…',
            })}
          </span>
        )}
      </TableCell>
    </TableRow>
  );
}
