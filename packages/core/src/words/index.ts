export { carLengths } from '../vehicle/car-length.ts'
export { groupProposal } from './group-proposal.ts'
export { type HandOverInput, handOver } from './hand-over.ts'
export { type PortalProblemCode, portalProblemCodes, type ReaderWords } from './reader-words.ts'
export {
  adviceText,
  correctionFor,
  describeError,
  differsText,
  evidenceText,
  levelName,
  mistakeName,
  placeText,
  praiseText,
  problemText,
  readerWords,
  referenceText,
  skillName,
} from './words.ts'
