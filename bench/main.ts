import { captureBench } from './capture.ts';
import { historyBench } from './history.ts';
import { importBench } from './importing.ts';
import { keystrokeBench } from './keystroke.ts';
import { limitedBench } from './limited.ts';
import { narrowingBench } from './narrowing.ts';
import { savingBench } from './saving.ts';
import { structureBench } from './structure.ts';
import { verifyingBench } from './verifying.ts';
import { wordsBench } from './words.ts';

// Prints what ARCHITECTURE.md gives a figure for, as ratios against the same work done by plain SQL in the same run.
process.stdout.write('what                                                     ratio     aim\n');
for (const bench of [
  keystrokeBench,
  savingBench,
  narrowingBench,
  limitedBench,
  wordsBench,
  captureBench,
  importBench,
  structureBench,
  historyBench,
  verifyingBench,
])
  for (const { what, ratio, aim, detail } of await bench())
    process.stdout.write(`${what.padEnd(56)} ${ratio.toFixed(2).padStart(5)}   ${aim}\n    ${detail}\n`);
