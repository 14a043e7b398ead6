import { say } from '@fiche/core/languages';
import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import TextField from '@mui/material/TextField';
import { type SyntheticEvent, useState } from 'react';
import type { AskedReasons } from './useMoves.ts';

interface ReasonDialogProps {
  readonly asked: AskedReasons['asked'];
  /** What is moved. */
  readonly title: string;
  onAnswer(reasons: Readonly<Record<string, string>> | undefined): void;
}

/** Asks for the reasons without which a move is not saved. */
export function ReasonDialog({ asked, title, onAnswer }: ReasonDialogProps) {
  const [reasons, setReasons] = useState<Readonly<Record<string, string>>>({});
  const whole = asked.every(({ rule }) => (reasons[rule] ?? '').trim() !== '');
  const save = (event: SyntheticEvent): void => {
    event.preventDefault();
    if (whole) onAnswer(reasons);
  };
  return (
    <Dialog open onClose={() => onAnswer(undefined)} aria-labelledby="move-reasons">
      <form onSubmit={save}>
        <DialogTitle id="move-reasons">{say('Give a reason to move {title}', { title })}</DialogTitle>
        <DialogContent>
          {asked.map(({ rule, message }, at) => (
            <TextField
              key={rule}
              autoFocus={at === 0}
              fullWidth
              margin="dense"
              label={message}
              placeholder={say('Your reason; it goes into the history')}
              autoComplete="off"
              value={reasons[rule] ?? ''}
              onChange={(event) => setReasons({ ...reasons, [rule]: event.target.value })}
              slotProps={{ htmlInput: { maxLength: 500 } }}
            />
          ))}
        </DialogContent>
        <DialogActions>
          <Button variant="text" onClick={() => onAnswer(undefined)}>
            {say('Leave it where it was')}
          </Button>
          <Button type="submit" variant="contained" disabled={!whole}>
            {say('Move it')}
          </Button>
        </DialogActions>
      </form>
    </Dialog>
  );
}
