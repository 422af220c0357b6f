export {
  type LogCode,
  logCodes,
  type MistakeCode,
  type MistakeWords,
  mistakeCodes,
  mistakes,
  type Skill,
  type SuggestedCode,
  skills,
} from './mistakes.ts'
