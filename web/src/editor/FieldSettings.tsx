import { say } from '@fiche/core/languages';
import { isGiven, typeOf } from '@fiche/core/tables';
import { clsx } from 'clsx';
import { CheckField, textCss } from '../parts/index.ts';
import { changeField, fieldOn } from './edit.ts';
import { FieldCalculation, FieldControls } from './FieldControls.tsx';
import { canFill, FillSentences } from './FillSentences.tsx';
import type { FieldSettingsProps } from './fieldSettingsProps.ts';
import { GoesTo } from './GoesTo.tsx';
import { NarrowingSentences } from './NarrowingSentences.tsx';
import panelCss from './panel.module.css';
import { RuleSentences } from './RuleSentences.tsx';
import { Findings, RemoveFromForm, SettingsGroup, ShownWhen } from './SettingsGroup.tsx';
import { ShownSentences } from './ShownSentences.tsx';

/** The selected field: its ordinary settings as controls, then its choices, fills, conditions, rules and calculation. */
export function FieldSettings(props: FieldSettingsProps) {
  const { definition, prepared, field, findings, onChange } = props;
  const one = fieldOn(definition, field.id);
  const placed = [...prepared.fields.values()].filter((other) => other.placed);
  if (!one) return null;
  const set = (change: Parameters<typeof changeField>[2]): void => onChange(changeField(definition, field.id, change));
  const calculable =
    !['link', 'links', 'choices'].includes(typeOf(field.field).family) &&
    !isGiven(field.field) &&
    field.field.calculation === null;
  return (
    <>
      <header className={panelCss.head}>
        <h2>{field.label}</h2> <span className={clsx(textCss.mono, textCss.faded)}>{field.id}</span>
        <span className={clsx(textCss.faded, panelCss.end)}>
          {say('{field} of {count}', { field: placed.indexOf(field) + 1, count: placed.length })}
        </span>
      </header>
      <Findings findings={findings.filter((finding) => finding.path === field.id)} />
      <FieldControls {...props} one={one} set={set} />
      <GoesTo {...props} />
      {field.source && (
        <SettingsGroup
          title={say('Choices')}
          letter="N"
          about={say('Only these are offered, and only these are accepted.')}
        >
          <NarrowingSentences {...props} />
        </SettingsGroup>
      )}
      {canFill(field) && (
        <SettingsGroup
          title={say('Fills')}
          letter="F"
          about={say('Copied once, true on the day; a reference card is always current.')}
        >
          <FillSentences {...props} />
        </SettingsGroup>
      )}
      <ShownWhen
        what={field.label}
        about={say('A hidden field is neither required nor checked.')}
        prepared={prepared}
        except={[field.id]}
        condition={one.shownWhen}
        onChange={(shownWhen) => set({ shownWhen })}
      >
        {one.shownWhen && (
          <CheckField
            label={say('Keep its value while hidden')}
            checked={one.keepHidden}
            onChange={(keepHidden) => set({ keepHidden })}
          />
        )}
      </ShownWhen>
      <SettingsGroup title={say('Validation')} letter="V" about={say('Checked while typing, and again by the server.')}>
        {!field.readOnly && !field.required && (
          <ShownSentences
            prepared={prepared}
            except={[]}
            condition={one.requiredWhen}
            lead={`${say('{label} is required when', { label: field.label })} `}
            none=""
            addLabel={say('Require it only when…')}
            onChange={(requiredWhen) => set({ requiredWhen })}
          />
        )}
        <RuleSentences {...props} />
      </SettingsGroup>
      {calculable && (
        <SettingsGroup title={say('Calculation')} letter="C" about={say('Nobody types a calculated value.')}>
          <FieldCalculation {...props} one={one} set={set} />
        </SettingsGroup>
      )}
      <RemoveFromForm {...{ definition, onChange }} selected={field.id} />
    </>
  );
}
