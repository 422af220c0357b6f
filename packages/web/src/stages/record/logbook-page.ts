import type { StudentRecord } from '@ochote/contract'
import type { LogbookData, Tell } from './use-logbook.ts'

/** What every page of the logbook is given. */
export type LogbookPage = { record: StudentRecord; book: LogbookData; tell: Tell; nameOf: (cornerId: string) => string }
