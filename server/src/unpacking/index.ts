export { archiveFiles, jsonRecords, workbookRows } from './unpack.ts';
