import { say } from '@fiche/core/languages';
import HelpIcon from '@mui/icons-material/HelpOutlineOutlined';
import Button from '@mui/material/Button';
import IconButton from '@mui/material/IconButton';
import Tab from '@mui/material/Tab';
import Tabs from '@mui/material/Tabs';
import Tooltip from '@mui/material/Tooltip';
import { clsx } from 'clsx';
import { lazy, Suspense, useState } from 'react';
import { useLocation } from 'react-router-dom';
import { useOffice } from '../client/index.ts';
import { KEYS_OF_PARTS, SHORTCUTS, Sheet, type ShortcutPlace, useShortcut, Waiting } from '../parts/index.ts';
import type { GuidePage } from './Guide.tsx';
import helpCss from './help.module.css';

const Guide = lazy(() => import('./Guide.tsx'));

const TITLES: Readonly<Record<ShortcutPlace, string>> = {
  card: say('On a card'),
  lines: say('In lines'),
  records: say('In a table of records'),
  shown: say('In a chart, a calendar or lanes'),
  editor: say('In the form editor'),
  everywhere: say('Everywhere'),
};

/** The places whose shortcuts matter on a page, by its address. */
function placesOf(pathname: string): ShortcutPlace[] {
  if (/\/forms\/[^/]+\/edit$/.test(pathname)) return ['editor', 'everywhere'];
  if (/\/(forms|tables)\/[^/]+\/(new|\d+)$/.test(pathname)) return ['card', 'lines', 'everywhere'];
  if (/\/(forms|tables)\/[^/]+$/.test(pathname)) return ['records', 'shown', 'everywhere'];
  return ['everywhere'];
}

const keysOf = (place: ShortcutPlace): (readonly [shown: string, does: string])[] => [
  ...KEYS_OF_PARTS.filter(([of]) => of === place).map(([, shown, does]) => [shown, does] as const),
  ...Object.values(SHORTCUTS)
    .filter((one) => one.place === place)
    .map((one) => [one.shown, one.does] as const),
];

type Shown = 'keys' | GuidePage;
const TABS: readonly (readonly [shown: Shown, label: string])[] = [
  ['keys', say('Keys')],
  ['clerk', say('Filling')],
  ['builder', say('Building')],
  ['auditor', say('Auditing')],
];

/** The guide and the keys beside the work: its button opens the guide’s page for one’s role, `?` and F1 the keys. */
export function HelpSheet() {
  const { may } = useOffice();
  const [shown, setShown] = useState<Shown | null>(null);
  const { pathname } = useLocation();
  const isTyping = (event: KeyboardEvent): boolean =>
    event.key !== 'F1' &&
    (event.target as Element).closest(say('input, textarea, select, [contenteditable="true"]')) !== null;
  const toggle = (page: Shown): void => setShown(shown ? null : page);
  useShortcut('help', (event) => !isTyping(event) && toggle('keys'), { preventDefault: (event) => !isTyping(event) });
  const ownPage: GuidePage = may('build') ? 'builder' : may('add') ? 'clerk' : 'auditor';
  return (
    <>
      <Tooltip title={say('Guide, and keys (?)')}>
        <IconButton aria-label={say('Help')} aria-expanded={shown !== null} onClick={() => toggle(ownPage)}>
          <HelpIcon />
        </IconButton>
      </Tooltip>
      {shown && (
        <div className={clsx(helpCss.sheet, shown !== 'keys' && helpCss.ofGuide)} data-prints-alone>
          <Sheet
            over
            title={say('Help')}
            label={shown === 'keys' ? say('What the keyboard does here') : say('Guide')}
            onClose={() => setShown(null)}
          >
            <Tabs value={shown} onChange={(_, next: Shown) => setShown(next)} aria-label={say('Help')}>
              {TABS.map(([value, label]) => (
                <Tab key={value} value={value} label={label} />
              ))}
            </Tabs>
            {shown === 'keys' ? (
              <KeyList pathname={pathname} />
            ) : (
              <Suspense fallback={<Waiting />}>
                <Guide page={shown} />
              </Suspense>
            )}
            <Button variant="text" onClick={() => window.print()}>
              {say('Print this page')}
            </Button>
          </Sheet>
        </div>
      )}
    </>
  );
}

/** The keys that work on a page, by place. */
function KeyList({ pathname }: { pathname: string }) {
  return placesOf(pathname).map((place) => (
    <section key={place}>
      <h3>{TITLES[place]}</h3>
      <dl>
        {keysOf(place).map(([shown, does]) => (
          <div key={shown}>
            <dt>
              <kbd>{shown}</kbd>
            </dt>
            <dd>{does}</dd>
          </div>
        ))}
      </dl>
    </section>
  ));
}
