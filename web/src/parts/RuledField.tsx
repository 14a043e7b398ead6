import type { ReactNode } from 'react';

export interface RuledFieldProps {
  readonly id: string;
  readonly label: string;
  readonly required?: boolean;
  readonly readOnly?: boolean;
  readonly help?: string;
  readonly problem?: string;
  /** What Fiche did here by itself: cleared, found nothing. */
  readonly notice?: string;
  /** The label of the field that filled this one. */
  readonly filledBy?: string;
  readonly children: ReactNode;
}

/** Ids of the texts that describe an input, for aria-describedby. */
export const describedBy = (id: string): string => `${id}-said`;

/** Label above in faded ink, value on a ruled line, and below it what has to be said. */
export function RuledField({
  id,
  label,
  required,
  readOnly,
  help,
  problem,
  notice,
  filledBy,
  children,
}: RuledFieldProps) {
  return (
    <div className={`ruled${readOnly ? ' read-only' : ''}${problem ? ' wrong' : ''}`} data-field={id}>
      <label className="ruled-label" htmlFor={id} id={`${id}-label`}>
        {required && <span className="tick" aria-hidden="true" />}
        {label}
        {required && <span className="visually-hidden"> (required)</span>}
      </label>
      <div className="ruled-line">
        {children}
        {filledBy && (
          <span
            className="filled-dot"
            role="img"
            aria-label={`filled from ${filledBy}`}
            title={`filled from ${filledBy}`}
          />
        )}
      </div>
      <div id={describedBy(id)} aria-live="polite">
        {problem && <div className="ruled-problem">{problem}</div>}
        {notice && <div className="ruled-notice">{notice}</div>}
        {help && !problem && !notice && <div className="ruled-help">{help}</div>}
      </div>
    </div>
  );
}
