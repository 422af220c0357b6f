export { type Evidence, type Evidenced, type EvidenceOf, evidenceKeys, evidenceSize, isEvidenceOf, trendOf } from './evidence.ts'
export { type MistakeGroup, mistakeGroups, mistakesOf } from './groups.ts'
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
