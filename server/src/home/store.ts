import { type HomeViews, homeViewsSchema } from '@fiche/core/api';
import type { Database } from '../database/index.ts';

/** Which views an account has put on its Home of a cabinet, or taken off it, in order. */
export async function homeOf(database: Database, account: string, cabinet: string): Promise<HomeViews> {
  const row: { views: unknown } | undefined = await database('fiche.home').where({ account, cabinet }).first('views');
  return homeViewsSchema.parse(row?.views ?? []);
}

export async function keepHome(database: Database, account: string, cabinet: string, views: HomeViews): Promise<void> {
  await database('fiche.home')
    .insert({ account, cabinet, views: JSON.stringify(views) })
    .onConflict(['account', 'cabinet'])
    .merge(['views']);
}
