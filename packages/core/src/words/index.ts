export { carLengths } from './car-lengths.ts'
export { type HandOverInput, handOver } from './hand-over.ts'
export { type PortalProblemCode, portalProblemCodes, type ReaderWords } from './reader-words.ts'
export { adviceText, correctionFor, describeError, evidenceText, mistakeName, praiseText, problemText, readerWords } from './words.ts'
