import type { ReactNode } from 'react';

/** White stock with a head rule under its title; `end` stands at the title's far side. */
export function Card({
  title,
  mark,
  end,
  children,
  label,
}: {
  title: string;
  mark?: ReactNode;
  end?: ReactNode;
  children: ReactNode;
  label?: string;
}) {
  return (
    <article className="card" aria-label={label ?? title}>
      <header className="card-head">
        <h1>{title}</h1>
        {mark}
        {end && <div className="end">{end}</div>}
      </header>
      {children}
    </article>
  );
}

export function CardSection({ label, children }: { label?: string; children: ReactNode }) {
  return (
    <section className="card-section">
      {label && <h2>{label}</h2>}
      {children}
    </section>
  );
}
