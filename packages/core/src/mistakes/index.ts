export { type Evidence, type Evidenced, type EvidenceOf, evidenceKeys, isEvidenceOf } from './evidence.ts'
export {
  type LogCode,
  logCodes,
  type MistakeCode,
  type MistakeRow,
  mistakeCodes,
  mistakes,
  type Skill,
  type SuggestedCode,
  skills,
} from './mistakes.ts'
