import type { LedgerVerdict } from '@fiche/core/api';
import { useMutation } from '@tanstack/react-query';
import { send, useOffice } from '../client/index.ts';

/** Holds the whole ledger against its chains and seals, and says what was found. */
export function VerifyLedger() {
  const { tables } = useOffice();
  const verify = useMutation({ mutationFn: () => send<LedgerVerdict>('GET', '/api/ledger/verify') });
  const found = verify.data;
  const n = (count: number): string => count.toLocaleString('en-GB');
  const misfit = found?.misfit;
  const where = misfit
    ? [
        misfit.line === null ? '' : `line ${misfit.line}`,
        misfit.seal === null ? '' : `seal ${misfit.seal}`,
        misfit.place === null
          ? ''
          : `${tables.get(misfit.place.replace(/^data\./, ''))?.label ?? misfit.place}, record ${misfit.record}`,
      ]
        .filter((part) => part !== '')
        .join(', ')
    : '';
  return (
    <div className="verify" role="status">
      <button type="button" className="button" disabled={verify.isPending} onClick={() => verify.mutate()}>
        {verify.isPending ? 'Verifying…' : 'Verify the ledger'}
      </button>
      {verify.isError && <span className="ruled-problem">{verify.error.message}</span>}
      {misfit && (
        <span className="ruled-problem">
          It does not fit{where && ` at ${where}`}: {misfit.what}.
        </span>
      )}
      {found && !misfit && (
        <span className="verified">
          ✓ All {n(found.lines)} lines of {n(found.records)} records fit, in {n(found.seals)}{' '}
          {found.seals === 1 ? 'seal' : 'seals'}
          {found.unsealed > 0 ? `; ${n(found.unsealed)} wait for the next one` : ''}.{' '}
          {found.newestSeal && (
            <span className="mono" title={found.newestSeal}>
              {found.newestSeal.slice(0, 16)}…
            </span>
          )}
        </span>
      )}
    </div>
  );
}
