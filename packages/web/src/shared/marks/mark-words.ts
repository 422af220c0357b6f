import type { ConeKind, MarkKind } from '@ochote/core'
import { english } from '../language/english.ts'

/** Name of each kind of mark on the school's own screens. */
export const markNames: Record<MarkKind, string> = english.marks

/** Name of each kind of cone: its mark, or its other meaning. */
export const coneNames: Record<ConeKind, string> = english.marks
