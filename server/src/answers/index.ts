export { confirmAnswer } from './confirm.ts';
export { eraseOldAnswers } from './eraseOld.ts';
export {
  type AnswerRecord,
  type AnswerToKeep,
  type CorrectedAnswer,
  countAnswers,
  countCorrected,
  keepAnswer,
  requireOpen,
  reserveCapacity,
} from './keep.ts';
export { AccessRefused, accessOf, type PageAccess, type PersonalLink } from './pageAccess.ts';
export { answerOfReceipt, noteCorrection, type ReceivedAnswer, receiptFor } from './receipt.ts';
export { answerRoutes } from './routes.ts';
