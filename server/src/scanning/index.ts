export { CLAMD_WRONG, requireClean, type Scanner, scannerFrom, standInScanner } from './scanner.ts';
