export { describeError, type ErrorWords } from './error-words.ts'
export { evidenceInWords, type FindingWords, findingWords, sayAdvice } from './finding-words.ts'
