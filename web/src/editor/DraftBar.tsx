import type { ReactNode } from 'react';
import draftBarCss from './draftBar.module.css';

/** The line above a draft: what stands at its end is what can be done with it. */
export const DraftBar = ({ end, children }: { readonly end: ReactNode; readonly children: ReactNode }) => (
  <div className={draftBarCss.bar}>
    {children}
    <div className={draftBarCss.end}>{end}</div>
  </div>
);
