import type { ReactNode } from 'react';

/** A pane that lies over the page from the right, with its heading and the way to close it. */
export function Sheet({
  title,
  label = title,
  children,
  onClose,
}: {
  title: string;
  /** What it is called to a screen reader, where that says more than the heading. */
  label?: string;
  children: ReactNode;
  onClose(): void;
}) {
  return (
    <aside className="sheet" aria-label={label}>
      <div className="sheet-head">
        <h2>{title}</h2>
        <button type="button" className="link" onClick={onClose}>
          Close
        </button>
      </div>
      {children}
    </aside>
  );
}
