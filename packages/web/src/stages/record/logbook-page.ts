import type { StudentRecord } from '@ochote/contract'
import type { LogbookData, Tell } from './use-logbook.ts'

/** Props of every page of the logbook. */
export type LogbookPage = { record: StudentRecord; book: LogbookData; tell: Tell; nameOf: (cornerId: string) => string }
