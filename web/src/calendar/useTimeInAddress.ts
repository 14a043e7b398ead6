import { civilNow } from '@fiche/core/office';
import useMediaQuery from '@mui/material/useMediaQuery';
import { useSearchParams } from 'react-router-dom';

/** The day that is shown and how much of time, as the address of the page has them, so that they are there after a look at a record. Without, `usual`, or `onPhone` where there is little room. */
export function useTimeInAddress<S extends string>(spans: readonly S[], usual: S, onPhone: S) {
  const phone = useMediaQuery('(max-width: 700px)', { noSsr: true });
  const [address, setAddress] = useSearchParams();
  const named = address.get('at');
  return {
    today: civilNow().slice(0, 10),
    /** Undefined until somebody has gone to another time. */
    day: named !== null && /^\d{4}-\d{2}-\d{2}$/.test(named) ? named : undefined,
    span: spans.find((one) => one === address.get('span')) ?? (phone ? onPhone : usual),
    set: (at: string, span: S): void =>
      setAddress(
        (now) => {
          const to = new URLSearchParams(now);
          to.set('at', at);
          to.set('span', span);
          return to;
        },
        { replace: true },
      ),
  };
}
