import { clsx } from 'clsx';
import type { ReactNode } from 'react';
import cardCss from './card.module.css';

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
      data-card
      className={clsx(cardCss.card, small && cardCss.small, history && cardCss.ofHistory)}
      aria-label={label ?? title}
    >
      <header className={cardCss.head}>
        <Heading>{heading ?? title}</Heading>
        {mark}
        {end && <div className={cardCss.end}>{end}</div>}
      </header>
      {children}
    </article>
  );
}

export function CardSection({ label, children }: { label?: string; children: ReactNode }) {
  return (
    <section className={cardCss.section}>
      {label && <h2>{label}</h2>}
      {children}
    </section>
  );
}
