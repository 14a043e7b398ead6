import type { Settings } from '@fiche/core/fields';
import TextField from '@mui/material/TextField';
import { useState } from 'react';
import { SelectField } from '../parts/index.ts';
import { type SettingWords, showSetting, withSetting } from './settings.ts';

interface SettingControlProps {
  readonly type: string;
  readonly settings: Settings;
  readonly setting: SettingWords;
  onSet(settings: Settings): void;
}

/** One setting of a field type as a control: picked where there are options, typed otherwise. */
export function SettingControl({ type, settings, setting, onSet }: SettingControlProps) {
  const { text } = showSetting(type, settings, setting);
  if (setting.options)
    return (
      <SelectField
        label={setting.label}
        value={String(settings[setting.key] ?? setting.options[0]?.value)}
        options={setting.options}
        onChange={(value) => onSet(withSetting(type, settings, setting, value))}
      />
    );
  return (
    <TextControl
      key={text}
      label={setting.label}
      text={text}
      none={setting.none}
      hint={setting.hint}
      onSet={(typed) => onSet(withSetting(type, settings, setting, typed))}
    />
  );
}

interface TextControlProps {
  readonly label: string;
  readonly text: string;
  readonly none?: string;
  readonly hint?: string;
  readonly multiline?: boolean;
  /** The label is for screen readers only: what stands beside says it. */
  readonly hiddenLabel?: boolean;
  /** Takes the text when the control is left or Enter is pressed; throws what is wrong, in words. */
  onSet(text: string): void;
}

/** A text setting that is taken when it is left, or with Enter; Esc puts back what was there. */
export function TextControl({ label, text, none, hint, multiline, hiddenLabel, onSet }: TextControlProps) {
  const [typed, setTyped] = useState(text);
  const [problem, setProblem] = useState('');
  const commit = (): void => {
    if (typed.trim() === text) return;
    try {
      onSet(typed.trim());
    } catch (error) {
      setProblem((error as Error).message);
    }
  };
  return (
    <TextField
      label={hiddenLabel ? undefined : label}
      slotProps={hiddenLabel ? { htmlInput: { 'aria-label': label } } : {}}
      value={typed}
      placeholder={none}
      multiline={multiline}
      error={problem !== ''}
      helperText={problem || hint}
      onChange={(event) => {
        setTyped(event.target.value);
        setProblem('');
      }}
      onBlur={commit}
      onKeyDown={(event) => {
        if (event.key === 'Enter' && !event.shiftKey) {
          event.preventDefault();
          commit();
        } else if (event.key === 'Escape' && typed !== text) {
          event.stopPropagation();
          setTyped(text);
          setProblem('');
        }
      }}
    />
  );
}
