import type { ReactNode } from 'react';

const Icon = ({ children }: { children: ReactNode }) => (
  <svg
    width="20"
    height="20"
    viewBox="0 0 20 20"
    fill="none"
    stroke="currentColor"
    strokeWidth="1.5"
    strokeLinecap="round"
    strokeLinejoin="round"
    aria-hidden="true"
  >
    {children}
  </svg>
);

export const DeskIcon = () => (
  <Icon>
    <path d="M2.5 7h15v9.5h-15zM7 7V4.5h6V7M2.5 11h15M9 11v2h2v-2" />
  </Icon>
);
export const FormsIcon = () => (
  <Icon>
    <path d="M4 2.5h12v15H4zM4 6.5h12M7 10h6M7 13.5h4" />
  </Icon>
);
export const TablesIcon = () => (
  <Icon>
    <path d="M2.5 4h15v12h-15zM2.5 8h15M2.5 12h15M7.5 4v12" />
  </Icon>
);
export const LedgerIcon = () => (
  <Icon>
    <path d="M4 2.5h11.5a1 1 0 0 1 1 1v13H5a1 1 0 0 1-1-1zM7 2.5v14M10 6.5h3.5M10 9.5h3.5" />
  </Icon>
);
export const PeopleIcon = () => (
  <Icon>
    <circle cx="7.5" cy="6.5" r="3" />
    <path d="M2 17c0-3.3 2.3-5 5.5-5s5.5 1.7 5.5 5M13 4a3 3 0 0 1 0 5M15 12.5c2 .6 3 2.200 3 4.500" />
  </Icon>
);
