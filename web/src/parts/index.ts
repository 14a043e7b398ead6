import './parts.css';

export { Card, CardSection } from './Card.tsx';
export { InlineForm } from './InlineForm.tsx';
export { Changes, LedgerLine } from './LedgerLine.tsx';
export { PickField, type PickOption } from './PickField.tsx';
export { Progress } from './Progress.tsx';
export { describedBy, type Filled, RuledField } from './RuledField.tsx';
export { SaidProvider, useSay } from './Said.tsx';
export { type Phrase, Sentence, type Slot, type SlotOption } from './Sentence.tsx';
export { Sheet } from './Sheet.tsx';
export { Stamp, showMoment } from './Stamp.tsx';
export { Waiting } from './Waiting.tsx';
