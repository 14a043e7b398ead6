import { AccountInput } from './AccountInput.tsx';
import { DateInput } from './DateInput.tsx';
import { Dropdown } from './Dropdown.tsx';
import type { Input } from './input.ts';
import { LongTextInput } from './LongTextInput.tsx';
import { lazyInput } from './lazyInput.tsx';
import { RatingInput } from './RatingInput.tsx';
import { EmailInput, KeyedInput, NumberInput, PhoneInput, TextInput, WebAddressInput } from './TextInput.tsx';
import { YesNoInput } from './YesNoInput.tsx';

const SeveralInput = lazyInput(() => import('./SeveralInput.tsx'));

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
  attachments: lazyInput(() => import('./AttachmentsInput.tsx')),
};

export const inputFor = (type: string): Input => INPUTS[type] ?? TextInput;
