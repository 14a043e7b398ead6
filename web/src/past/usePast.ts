import { civilOf } from '@fiche/core/office';
import { useSearchParams } from 'react-router-dom';

/** The moment of the past that the address of a page names, and the one that it is compared with. */
export function usePast() {
  const [address, setAddress] = useSearchParams();
  const set = (key: 'asOf' | 'and', moment: string | undefined): void =>
    setAddress((now) => {
      const next = new URLSearchParams(now);
      if (moment === undefined) next.delete(key);
      else next.set(key, moment);
      if (key === 'asOf' && moment === undefined) next.delete('and');
      return next;
    });
  return {
    asOf: address.get('asOf') ?? undefined,
    and: address.get('and') ?? undefined,
    setAsOf: (moment: string | undefined): void => set('asOf', moment),
    setAnd: (moment: string | undefined): void => set('and', moment),
  };
}

/** A moment as an input of a date and time has it: civil time of the office, to the minute. */
export const inputOf = (moment: string): string =>
  /Z$|[+-]\d\d(:?\d\d)?$/.test(moment.slice(16)) ? civilOf(new Date(moment)) : moment.slice(0, 16);
