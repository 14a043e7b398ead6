import { movedDates, type Period } from '@fiche/core/calendar';
import { say } from '@fiche/core/languages';
import Button from '@mui/material/Button';
import Popover from '@mui/material/Popover';
import { useRef, useState } from 'react';
import { Link } from 'react-router-dom';
import { PickField, textCss } from '../parts/index.ts';
import calendarCss from './calendar.module.css';
import { nameOf, timeText } from './periodText.ts';

interface PeriodPanelProps {
  readonly period: Period;
  readonly anchor: HTMLElement;
  /** The address of its card. */
  readonly card: string;
  readonly ends: boolean;
  readonly mayMove: boolean;
  /** Minutes by which it moves, and how that reads: `a day`. */
  readonly step: number;
  readonly stepWords: string;
  /** Where it could lie instead, by number, and what that is called. */
  readonly lanes?: { readonly label: string; readonly options: readonly { value: string; label: string }[] };
  onMove(to: Pick<Period, 'start' | 'end' | 'lane'>): void;
  onClose(): void;
}

/** One period: its card, and the same moves by buttons that a mouse makes by dragging. */
export function PeriodPanel(props: PeriodPanelProps) {
  const { period, anchor, card, ends, mayMove, step, stepWords, lanes, onMove, onClose } = props;
  const open = useRef<HTMLAnchorElement>(null);
  const [to, setTo] = useState<Pick<Period, 'start' | 'end' | 'lane'>>(period);
  const changed = to.start !== period.start || to.end !== period.end || to.lane !== period.lane;
  const move = (part: 'whole' | 'end', by: number): void => setTo({ ...to, ...movedDates(to, part, by, step) });
  return (
    <Popover
      open
      anchorEl={anchor}
      onClose={onClose}
      slotProps={{
        paper: { 'aria-label': period.title, role: 'dialog' },
        transition: { onEntered: () => open.current?.focus() },
      }}
      anchorOrigin={{ vertical: 'bottom', horizontal: 'left' }}
    >
      <div className={calendarCss.panel}>
        <strong>{nameOf(period)}</strong>
        {period.label !== null && <span>{period.title}</span>}
        <span className={changed ? calendarCss.newTime : undefined}>{timeText(to, ends)}</span>
        {mayMove && (
          <>
            <div className={calendarCss.steps}>
              <span className={textCss.faded}>{stepWords}</span>
              <Button
                variant="text"
                onClick={() => move('whole', -step)}
                aria-label={say('{stepWords} earlier', { stepWords })}
              >
                {say('earlier')}
              </Button>
              <Button
                variant="text"
                onClick={() => move('whole', step)}
                aria-label={say('{stepWords} later', { stepWords })}
              >
                {say('later')}
              </Button>
              {period.end !== null && (
                <>
                  <Button
                    variant="text"
                    onClick={() => move('end', -step)}
                    aria-label={say('{stepWords} shorter', { stepWords })}
                  >
                    {say('shorter')}
                  </Button>
                  <Button
                    variant="text"
                    onClick={() => move('end', step)}
                    aria-label={say('{stepWords} longer', { stepWords })}
                  >
                    {say('longer')}
                  </Button>
                </>
              )}
            </div>
            {lanes && (
              <PickField
                id="panel-lane"
                label={lanes.label}
                options={lanes.options}
                value={to.lane === null ? '' : String(to.lane)}
                onPick={(lane) => setTo({ ...to, lane: lane === '' ? null : Number(lane) })}
              />
            )}
          </>
        )}
        <div className={calendarCss.steps}>
          {changed && (
            <Button
              variant="contained"
              onClick={() => {
                onMove(to);
                onClose();
              }}
            >
              {say('Move it')}
            </Button>
          )}
          <Button ref={open} component={Link} to={card} variant={changed ? 'text' : 'contained'}>
            {say('Open {title}', { title: period.title })}
          </Button>
        </div>
      </div>
    </Popover>
  );
}
