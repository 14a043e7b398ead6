import { AccountInput } from './AccountInput.tsx';
import { DateInput } from './DateInput.tsx';
import { Dropdown } from './Dropdown.tsx';
import type { Input } from './input.ts';
import { LazyAttachments } from './LazyAttachments.tsx';
import { LongTextInput } from './LongTextInput.tsx';
import { RatingInput } from './RatingInput.tsx';
import { SeveralInput } from './SeveralInput.tsx';
import { EmailInput, KeyedInput, NumberInput, PhoneInput, TextInput, WebAddressInput } from './TextInput.tsx';
import { YesNoInput } from './YesNoInput.tsx';

/** The input of each field type: a new type is a component and a line here. */
const INPUTS: Readonly<Record<string, Input>> = {
  text: TextInput,
  longText: LongTextInput,
  wholeNumber: NumberInput,
  decimal: NumberInput,
  amount: NumberInput,
  account: AccountInput,
  yesNo: YesNoInput,
  date: DateInput,
  dateTime: DateInput,
  choice: Dropdown,
  link: Dropdown,
  sequence: KeyedInput,
  percent: NumberInput,
  time: DateInput,
  choices: SeveralInput,
  links: SeveralInput,
  email: EmailInput,
  phone: PhoneInput,
  webAddress: WebAddressInput,
  rating: RatingInput,
  attachments: LazyAttachments,
};

export const inputFor = (type: string): Input => INPUTS[type] ?? TextInput;
