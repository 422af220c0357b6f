import type { ConeKind, MarkKind } from '@ochote/core'
import { english } from '../language/english.ts'

/** What each kind of mark is called on the school's own screens. */
export const markNames: Record<MarkKind, string> = english.marks

/** What each kind of cone is called: its mark, or what else it stands for. */
export const coneNames: Record<ConeKind, string> = english.marks
