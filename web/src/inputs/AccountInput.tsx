import { useContext, useMemo } from 'react';
import { OfficeContext } from '../client/index.ts';
import { Dropdown } from './Dropdown.tsx';
import type { InputProps } from './input.ts';

/** One of the cabinet’s people whose account is open, by login, with the display name beside it; both are found by typing. */
export function AccountInput(props: InputProps) {
  const accounts = useContext(OfficeContext)?.cabinet.accounts;
  const offered = useMemo(
    () =>
      (accounts ?? [])
        .filter((one) => !one.closed)
        .map(({ login, displayName }) => ({ value: login, title: login, facts: {}, shown: [displayName] })),
    [accounts],
  );
  return <Dropdown {...props} offered={offered} />;
}
