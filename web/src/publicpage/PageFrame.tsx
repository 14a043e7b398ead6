import type { OpenPage, UnavailablePage } from '@fiche/core/api';
import { clsx } from 'clsx';
import type { ReactNode } from 'react';
import publicPageCss from './publicPage.module.css';

interface PageFrameProps {
  readonly page: Pick<OpenPage | UnavailablePage, 'cabinet' | 'style'>;
  /** It stands within another page, as its preview does. */
  readonly within?: boolean;
  /** Beside the name of the cabinet: the languages of the page. */
  readonly beside?: ReactNode;
  readonly children: ReactNode;
}

/** The band with the name of the cabinet, and one column below it, in the style of the page. */
export function PageFrame({ page, within = false, beside, children }: PageFrameProps) {
  const style = page.style ?? 'card';
  const Column = within ? 'div' : 'main';
  return (
    <div className={clsx(!within && publicPageCss.page, publicPageCss[style])} data-style={style}>
      <div className={publicPageCss.band}>
        <span>{page.cabinet}</span>
        {beside}
      </div>
      <Column data-shown="public" className={publicPageCss.public}>
        {children}
      </Column>
    </div>
  );
}
