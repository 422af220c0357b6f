export { CoreError, type ErrorCode } from './errors.ts'
