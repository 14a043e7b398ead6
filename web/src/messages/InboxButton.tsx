import type { NoticeView } from '@fiche/core/api';
import { say } from '@fiche/core/languages';
import { noticeWords } from '@fiche/core/messages';
import InboxIcon from '@mui/icons-material/InboxOutlined';
import Badge from '@mui/material/Badge';
import Button from '@mui/material/Button';
import IconButton from '@mui/material/IconButton';
import List from '@mui/material/List';
import ListItem from '@mui/material/ListItem';
import ListItemButton from '@mui/material/ListItemButton';
import Popover from '@mui/material/Popover';
import Tooltip from '@mui/material/Tooltip';
import { clsx } from 'clsx';
import { useState } from 'react';
import { Link, useNavigate, useParams } from 'react-router-dom';
import { useSession } from '../client/index.ts';
import { sayWith, showMoment, textCss, useNotify } from '../parts/index.ts';
import inboxCss from './inbox.module.css';
import { useInbox } from './useInbox.ts';

/** The inbox in the top line: how many notices are new, and the list that opens. */
export function InboxButton() {
  const inbox = useInbox();
  const [anchor, setAnchor] = useState<HTMLElement>();
  const close = (): void => setAnchor(undefined);
  const many = inbox.unseen > 99 ? '99+' : inbox.unseen;
  return (
    <>
      <Tooltip title={say('Inbox')}>
        <IconButton
          aria-haspopup="dialog"
          aria-label={inbox.unseen === 0 ? say('Inbox') : say('Inbox, {many} new', { many })}
          onClick={(event) => setAnchor(event.currentTarget)}
        >
          <Badge badgeContent={many} color="primary">
            <InboxIcon />
          </Badge>
        </IconButton>
      </Tooltip>
      <Popover
        open={anchor !== undefined}
        anchorEl={anchor}
        onClose={close}
        anchorOrigin={{ vertical: 'bottom', horizontal: 'right' }}
        transformOrigin={{ vertical: 'top', horizontal: 'right' }}
        slotProps={{ paper: { className: inboxCss.inbox, role: 'dialog', 'aria-label': say('Inbox') } }}
      >
        <InboxList inbox={inbox} onClose={close} />
      </Popover>
    </>
  );
}

function InboxList({ inbox, onClose }: { inbox: ReturnType<typeof useInbox>; onClose(): void }) {
  const { cabinet = '' } = useParams();
  const notify = useNotify();
  const navigate = useNavigate();
  const see = (notices: 'all' | readonly number[]): void =>
    void inbox.see(notices).catch((error: Error) => notify(error.message));
  const open = (notice: NoticeView): void => {
    if (!notice.seen) see([notice.id]);
    onClose();
    navigate(placeOf(notice));
  };
  return (
    <>
      <div className={inboxCss.head}>
        <h2>{say('Inbox')}</h2>
        {inbox.unseen > 0 && (
          <Button variant="text" onClick={() => see('all')}>
            {say('Mark all as seen')}
          </Button>
        )}
      </div>
      {inbox.error && (
        <p className={textCss.problem} role="alert">
          {inbox.error.message}
        </p>
      )}
      {!inbox.reading && inbox.notices.length === 0 && !inbox.error && (
        <p className={inboxCss.empty}>
          {sayWith(
            'Nothing yet. You are told here when somebody assigns a record to you, when a record or view that you watch is changed, when a form that you watch is answered, and when a long import of yours has ended. {name} stands at the foot of each record, above the list of a saved view, and above the answers of a form.',
            { name: <em>{say('Watch')}</em> },
          )}
        </p>
      )}
      <List disablePadding aria-label={say('Notices')}>
        {inbox.notices.map((notice) => (
          <ListItem key={notice.id} disablePadding className={inboxCss.notice}>
            <ListItemButton className={clsx(!notice.seen && inboxCss.unseen)} onClick={() => open(notice)}>
              <NoticeText notice={notice} here={cabinet} />
            </ListItemButton>
          </ListItem>
        ))}
      </List>
      <div className={inboxCss.foot}>
        {inbox.more && (
          <Button variant="text" onClick={inbox.more}>
            {say('Show older ones')}
          </Button>
        )}
        <Link to={`/${cabinet}/account#messages`} onClick={onClose}>
          {say('Choose what comes by mail')}
        </Link>
      </div>
    </>
  );
}

/** What a notice says; its moment below, and its cabinet where that is not the open one. */
function NoticeText({ notice, here }: { notice: NoticeView; here: string }) {
  const { data: session } = useSession();
  const words = noticeWords({
    ...notice,
    table: notice.table?.label ?? null,
    view: notice.view?.label ?? null,
    form: notice.form?.label ?? null,
  });
  const cabinet = session?.cabinets.find((one) => one.id === notice.cabinet)?.label;
  return (
    <span>
      {!notice.seen && <span className={textCss.visuallyHidden}>{say('New:')} </span>}
      {words.before} <strong>{words.subject}</strong> {words.after}
      <span className={inboxCss.moment}>
        {showMoment(notice.at)}
        {notice.cabinet !== here && cabinet !== undefined && ` · ${cabinet}`}
      </span>
    </span>
  );
}

/** Where a notice leads: the answers to its form, its record, its view, its table, or the start page. */
function placeOf({ cabinet, table, record, view, form }: NoticeView): string {
  if (form) return `/${cabinet}/forms/${form.id}/answers`;
  if (!table) return `/${cabinet}/home`;
  if (view) return `/${cabinet}/tables/${table.id}?view=${view.id}`;
  return `/${cabinet}/tables/${table.id}${record === null ? '' : `/${record}`}`;
}
