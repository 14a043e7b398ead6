export { DraftBar } from './DraftBar.tsx';
export { DraftState, PublishButton } from './EditorBar.tsx';
export { FormEditor, TwoDrafts } from './FormEditor.tsx';
export { Findings } from './SettingsGroup.tsx';
export { type Draft, useDraft } from './useDraft.ts';
