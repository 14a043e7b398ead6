import type { ReactNode } from 'react';

interface CardProps {
  readonly title: string;
  /** The title as it is shown, where it is more than its words: a link. */
  readonly heading?: ReactNode;
  readonly mark?: ReactNode;
  /** What stands at the far side of the title. */
  readonly end?: ReactNode;
  readonly children: ReactNode;
  readonly label?: string;
  /** A small card among others on a page: its title is a heading of the second level. */
  readonly small?: boolean;
  /** Its head rule says that it speaks of the past. */
  readonly history?: boolean;
}

/** White stock with a head rule under its title. */
export function Card({ title, heading, mark, end, children, label, small, history }: CardProps) {
  const Heading = small ? 'h2' : 'h1';
  return (
    <article
      className={['card', small && 'small', history && 'of-history'].filter(Boolean).join(' ')}
      aria-label={label ?? title}
    >
      <header className="card-head">
        <Heading>{heading ?? title}</Heading>
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
