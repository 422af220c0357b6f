export { CoreError, type ErrorCode, type ErrorData } from './errors.ts'
