export { LanguageChoice } from './LanguageChoice.tsx';
export { PageFrame } from './PageFrame.tsx';
export { Questions } from './Questions.tsx';
export { Sent } from './Sent.tsx';
