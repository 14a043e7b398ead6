import { eraseOldAnswers } from './answers/index.ts';
import { forgetPlans } from './changes/index.ts';
import type { RolePools } from './database/index.ts';
import { forgetExports } from './exports/index.ts';
import { forgetUnclaimed, requireDiskSpace } from './files/index.ts';
import { mailReceipts, makePartitions, sealLedger } from './history/index.ts';
import { forgetFiles } from './imports/index.ts';
import { forgetMessages } from './messages/index.ts';
import { forgetSnapshots, makeCheckpoints } from './past/index.ts';
import type { MailSettings } from './services.ts';
import { tendIndexes } from './tables/index.ts';

const MINUTE = 60_000;

/** What the database needs now and then: seals, partitions, indexes, and to be rid of what nobody claimed. */
async function tendOnce(
  { app: rows, owner: structure }: RolePools,
  dataFolder: string | null,
  mail: MailSettings,
): Promise<void> {
  await sealLedger(rows);
  await makePartitions(rows);
  await tendIndexes(structure);
  await forgetFiles(structure);
  await forgetPlans(structure);
  await forgetUnclaimed(structure);
  await forgetExports(structure);
  await forgetMessages(structure);
  await forgetSnapshots(structure);
  await requireDiskSpace(dataFolder);
  await eraseOldAnswers(structure);
  await mailReceipts(structure, mail);
}

/**
 * Tends the database at once and then every minute, until the returned function is called. A failure is told and tried
 * again at the next turn.
 */
export async function tendDatabase(
  pools: RolePools,
  dataFolder: string | null,
  mail: MailSettings,
  onTrouble: (error: Error) => void,
): Promise<() => void> {
  const once = (): Promise<void> => tendOnce(pools, dataFolder, mail).catch(onTrouble);
  // Of a large ledger the first ones take minutes, which nothing waits for.
  const makeThem = (): void => void makeCheckpoints(pools.owner).catch(onTrouble);
  const timer = setInterval(() => {
    void once();
    makeThem();
  }, MINUTE);
  await once();
  makeThem();
  return () => clearInterval(timer);
}
