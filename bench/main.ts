import { captureBench } from './capture.ts';
import { changingBench } from './changing.ts';
import { chartingBench } from './charting.ts';
import { exportingBench } from './exporting.ts';
import { historyBench } from './history.ts';
import { importBench } from './importing.ts';
import { keystrokeBench } from './keystroke.ts';
import { limitedBench } from './limited.ts';
import { listingBench } from './listing.ts';
import { narrowingBench } from './narrowing.ts';
import { paintingBench } from './painting.ts';
import { pastBench } from './past.ts';
import { replayingBench } from './replaying.ts';
import { savingBench } from './saving.ts';
import { scrollingBench } from './scrolling.ts';
import { severalBench } from './several.ts';
import { structureBench } from './structure.ts';
import { verifyingBench } from './verifying.ts';
import { wordsBench } from './words.ts';

const BENCHES = {
  keystroke: keystrokeBench,
  saving: savingBench,
  several: severalBench,
  narrowing: narrowingBench,
  limited: limitedBench,
  listing: listingBench,
  charting: chartingBench,
  words: wordsBench,
  capture: captureBench,
  changing: changingBench,
  importing: importBench,
  exporting: exportingBench,
  structure: structureBench,
  history: historyBench,
  past: pastBench,
  replaying: replayingBench,
  verifying: verifyingBench,
  painting: paintingBench,
  scrolling: scrollingBench,
};

// Prints what ARCHITECTURE.md gives a figure for, as ratios against the same work done by plain SQL in the same run: all
// of it, or what is named.
const named = process.argv.slice(2);
process.stdout.write('what                                                     ratio     aim\n');
for (const [name, bench] of Object.entries(BENCHES).filter(([one]) => named.length === 0 || named.includes(one)))
  for (const { what, ratio, aim, detail } of await bench())
    process.stdout.write(`${what.padEnd(56)} ${ratio.toFixed(2).padStart(5)}   ${aim}\n    ${name}: ${detail}\n`);
