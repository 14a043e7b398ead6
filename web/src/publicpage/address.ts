/** What the address of a public page says: the page, how its visitor comes in, and values to begin with. */
export interface PageAddress {
  readonly slug: string;
  /** Headers for the server: a personal link or a receipt. */
  readonly access: Readonly<Record<string, string>>;
  /** The visitor comes back to an answer. */
  readonly receipt: boolean;
  /** Texts by the name of their field, from `?harbour=Tern Cove`. */
  readonly texts: Readonly<Record<string, string>>;
}

/**
 * Reads the address of a public page. Secrets stand behind `#`, which browsers send to nobody: `#link=…`, `#code=…`, `#receipt=…`.
 *
 * @example
 * readAddress(new URL('https://fiche.example/p/report-a-fault?harbour=Tern%20Cove')).texts; // { harbour: 'Tern Cove' }
 */
export function readAddress({ pathname, search, hash }: Pick<URL, 'pathname' | 'search' | 'hash'>): PageAddress {
  const secrets = new URLSearchParams(hash.replace(/^#/, ''));
  const [link, receipt, code] = ['link', 'receipt', 'code'].map((name) => secrets.get(name) ?? '');
  return {
    slug: decodeURIComponent(pathname.replace(/^\/p\//, '').replace(/\/$/, '')),
    access: {
      ...(link ? { 'x-fiche-link': link } : {}),
      ...(receipt ? { 'x-fiche-receipt': receipt } : {}),
      ...(code ? codeHeader(code) : {}),
    },
    receipt: receipt !== undefined && receipt !== '',
    texts: Object.fromEntries([...new URLSearchParams(search)].filter(([name]) => /^[a-z][a-z0-9_]{0,99}$/.test(name))),
  };
}

/** How a code that was typed opens a page: a header holds ASCII only. */
export const codeHeader = (code: string): Readonly<Record<string, string>> => ({
  'x-fiche-code': encodeURIComponent(code),
});

/** The address at which a respondent comes back to an answer, in the language that is named. */
export const receiptAddress = (slug: string, receipt: string, language?: string): string =>
  `${window.location.origin}/p/${encodeURIComponent(slug)}${language === undefined ? '' : `?lang=${language}`}#receipt=${receipt}`;
