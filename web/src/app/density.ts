/** How much room rows and fields take: kept in this browser, and read by the style sheets as `data-density`. */
export type Density = 'compact' | 'roomy';

const KEY = 'fiche.density';

export const readDensity = (): Density => (localStorage.getItem(KEY) === 'roomy' ? 'roomy' : 'compact');

/** Marks the page with the density that is kept, or with a new one that is kept from now on. */
export function applyDensity(density?: Density): void {
  if (density) localStorage.setItem(KEY, density);
  document.documentElement.dataset.density = density ?? readDensity();
}
