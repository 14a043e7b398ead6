import { ask, type Database } from '../database/index.ts';

/** The part of an address after `/p/` that names a public page; undefined where it can be none. */
const slugIn = (url: string): string | undefined => /^\/p\/([a-z0-9][a-z0-9-]{1,60})(?:[/?#]|$)/.exec(url)?.[1];

/**
 * Where the definition of the page at an address is asked for by whoever comes by the address alone; empty where the address
 * can be no page’s. Browsers take what was preloaded for any request to the same address, whatever its headers: so whoever comes with a code, a
 * link or a receipt asks at another one.
 */
export function pageAddress(url: string): string {
  const slug = slugIn(url);
  if (slug === undefined) return '';
  const language = /[?&]lang=([a-zA-Z\d-]{2,20})(?:[&#]|$)/.exec(url)?.[1];
  return `/api/public/${slug}?by=address${language === undefined ? '' : `&lang=${language}`}`;
}

/**
 * The sites that may show the public page at an address (`/p/report-a-fault?harbour=…`) within their own; none where there is
 * no such page.
 */
export async function sitesOf(database: Database, url: string): Promise<readonly string[]> {
  const slug = slugIn(url);
  if (slug === undefined) return [];
  const [row] = await ask<{ sites: string[] | null }>(
    database,
    `SELECT v.definition->'page'->'sites' AS sites FROM fiche.form f
     JOIN fiche.form_version v ON v.form_id = f.id AND v.number = f.live_version WHERE f.slug = ? AND f.archived_at IS NULL`,
    [slug],
  );
  return row?.sites ?? [];
}
