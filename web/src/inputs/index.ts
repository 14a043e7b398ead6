export { default as attachmentsCss } from './attachments.module.css';
export { FileAdding, limitsOf, SendingItems } from './FileAdding.tsx';
export type { InputProps } from './input.ts';
export { moveOn } from './moveOn.ts';
export { inputFor } from './registry.ts';
export { UploadContext, uploadsNow, useUploads } from './uploads.ts';
export { useSending } from './useSending.ts';
