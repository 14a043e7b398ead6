export { archiveFiles, jsonRecords, workbookRows, xmlRecords } from './unpack.ts';
