import type { MessageView, Outbox } from '@fiche/core/api';
import { say } from '@fiche/core/languages';
import Alert from '@mui/material/Alert';
import Button from '@mui/material/Button';
import Link from '@mui/material/Link';
import Table from '@mui/material/Table';
import TableBody from '@mui/material/TableBody';
import TableCell from '@mui/material/TableCell';
import TableHead from '@mui/material/TableHead';
import TableRow from '@mui/material/TableRow';
import ToggleButton from '@mui/material/ToggleButton';
import ToggleButtonGroup from '@mui/material/ToggleButtonGroup';
import { useInfiniteQuery, useQueryClient } from '@tanstack/react-query';
import { clsx } from 'clsx';
import { useState } from 'react';
import { send, useOffice } from '../client/index.ts';
import { pageCss, Sheet, sayWith, showMoment, textCss, useNotify, Waiting } from '../parts/index.ts';
import { KIND_LABELS, STATE_LABELS, stateWords } from './messageWords.ts';
import outboxCss from './outbox.module.css';

type State = MessageView['state'] | 'all';

const STATE_CSS: Readonly<Record<MessageView['state'], string | undefined>> = {
  kept: outboxCss.kept,
  waiting: outboxCss.waiting,
  sent: outboxCss.sent,
  failed: outboxCss.failed,
};

function useOutbox(cabinet: string, state: State) {
  return useInfiniteQuery({
    queryKey: ['outbox', cabinet, state],
    initialPageParam: '',
    queryFn: ({ pageParam }) => {
      const asked = new URLSearchParams({
        ...(state === 'all' ? {} : { state }),
        ...(pageParam === '' ? {} : { before: pageParam }),
      });
      return send<Outbox>('GET', `/api/cabinets/${cabinet}/messages?${asked}`);
    },
    getNextPageParam: ({ before }) => (before === null ? undefined : String(before)),
    // What waits is sent while one looks.
    refetchInterval: 10_000,
  });
}

/** What the cabinet sends out: invitations, links for passwords, notices by mail; what failed, and why. */
export function OutboxPage() {
  const { cabinet, may } = useOffice();
  return may('outbox') ? (
    <Messages cabinet={cabinet.id} />
  ) : (
    <p className={pageCss.empty}>
      {say('Your role may not read the outbox. Ask whoever manages people for the right.')}
    </p>
  );
}

function Messages({ cabinet }: { cabinet: string }) {
  const [state, setState] = useState<State>('all');
  const [openId, setOpenId] = useState<number>();
  const query = useOutbox(cabinet, state);
  const { data: fetched } = query;
  const messages = fetched?.pages.flatMap((page) => page.messages) ?? [];
  const sends = fetched?.pages[0]?.sends ?? true;
  const open = messages.find((one) => one.id === openId);
  return (
    <div className={pageCss.withSheet}>
      <div className={pageCss.body}>
        <div className={pageCss.head}>
          <h1>{say('Outbox')}</h1>
          <ToggleButtonGroup
            value={state}
            exclusive
            aria-label={say('Show messages that are')}
            onChange={(_event, next: State | null) => next && setState(next)}
          >
            {(['all', 'waiting', 'sent', 'failed', 'kept'] as const).map((one) => (
              <ToggleButton key={one} value={one}>
                {STATE_LABELS[one]}
              </ToggleButton>
            ))}
          </ToggleButtonGroup>
        </div>
        {!sends && (
          <Alert severity="info" className={outboxCss.note}>
            {say(
              'No mail server is set up: messages are kept here and do not leave the office. Whoever runs the server sets SMTP_URL, MAIL_FROM and PUBLIC_URL.',
            )}
          </Alert>
        )}
        {query.isError && (
          <p className={textCss.problem} role="alert">
            {query.error.message}
          </p>
        )}
        {query.isPending && <Waiting what={say('Opening the outbox…')} />}
        {fetched && messages.length === 0 && <NoMessages filtered={state !== 'all'} />}
        {messages.length > 0 && <MessageTable messages={messages} onOpen={setOpenId} />}
        {query.hasNextPage && (
          <Button disabled={query.isFetchingNextPage} onClick={() => void query.fetchNextPage()}>
            {say('Show older messages')}
          </Button>
        )}
      </div>
      {open && <MessageSheet key={open.id} message={open} cabinet={cabinet} onClose={() => setOpenId(undefined)} />}
    </div>
  );
}

const NoMessages = ({ filtered }: { filtered: boolean }) => (
  <p className={clsx(pageCss.empty, pageCss.listCard)}>
    {filtered
      ? say('No message is in this state.')
      : sayWith(
          '{name} Here stand invitations and links for passwords of accounts that have an e-mail address, and notices that people want by mail.',
          { name: <strong>{say('Nothing was sent yet.')}</strong> },
        )}
  </p>
);

function MessageTable({ messages, onOpen }: { messages: readonly MessageView[]; onOpen(id: number): void }) {
  return (
    <div className={pageCss.listCard}>
      <Table className={clsx(pageCss.list, pageCss.cardsOnPhone)}>
        <TableHead>
          <TableRow>
            <TableCell scope="col">{say('Written')}</TableCell>
            <TableCell scope="col">{say('To')}</TableCell>
            <TableCell scope="col">{say('Subject')}</TableCell>
            <TableCell scope="col">{say('State')}</TableCell>
          </TableRow>
        </TableHead>
        <TableBody>
          {messages.map((one) => (
            <TableRow key={one.id}>
              <TableCell className={pageCss.when}>{showMoment(one.at)}</TableCell>
              <TableCell>{one.address || one.login}</TableCell>
              <TableCell>
                <Link component="button" className={outboxCss.subject} onClick={() => onOpen(one.id)}>
                  {one.subject ?? KIND_LABELS[one.kind]}
                </Link>
              </TableCell>
              <TableCell className={STATE_CSS[one.state]}>{stateWords(one, showMoment)}</TableCell>
            </TableRow>
          ))}
        </TableBody>
      </Table>
    </div>
  );
}

/** One message whole, what became of it, and sending it again. */
function MessageSheet({ message, cabinet, onClose }: { message: MessageView; cabinet: string; onClose(): void }) {
  const queries = useQueryClient();
  const notify = useNotify();
  const again = async (): Promise<void> => {
    try {
      await send('POST', `/api/cabinets/${cabinet}/messages/${message.id}/retry`, {});
      notify(say('It waits to be sent.'));
    } catch (error) {
      notify((error as Error).message);
    }
    await queries.invalidateQueries({ queryKey: ['outbox'] });
  };
  const over = message.state === 'failed' || message.state === 'kept';
  return (
    <Sheet title={message.subject ?? KIND_LABELS[message.kind]} label={say('Message')} onClose={onClose}>
      <p className={textCss.faded}>
        {say('{kindLabels} to {login}{address}, written {at}', {
          kindLabels: KIND_LABELS[message.kind],
          login: message.login === null ? '' : `${message.login}, `,
          address: message.address || message.login || '',
          at: showMoment(message.at),
        })}
      </p>
      <p className={STATE_CSS[message.state]}>{stateWords(message, showMoment)}</p>
      {message.problem && (
        <Alert severity={message.state === 'failed' ? 'error' : 'warning'} className={outboxCss.note}>
          {message.problem}
        </Alert>
      )}
      {message.body === null ? (
        <p>{say('It speaks of records. Only a role that sees all of them reads it here.')}</p>
      ) : (
        <div className={outboxCss.letter}>{message.body}</div>
      )}
      {over && !hasSecret(message) && <Button onClick={() => void again()}>{say('Send again')}</Button>}
      {over && hasSecret(message) && (
        <p className={textCss.faded}>
          {say('Its link is not kept. To send another, open the person on the People page and make a new link.')}
        </p>
      )}
    </Sheet>
  );
}

/** Whether a message had a one-time link, which is not kept. */
const hasSecret = ({ kind }: MessageView): boolean => kind === 'invitation' || kind === 'reset';
