import type { ConeKind, ConeShape, MarkKind } from '@ochote/core'
import { say } from '../../language/say.ts'
import { staffWords } from '../language/staff-words.ts'

/** Name of each kind of mark on the school's own screens. */
export const markNames: Record<MarkKind, string> = staffWords.marks

/** Name of each kind of cone: its mark, or its other meaning. */
export const coneNames: Record<ConeKind, string> = staffWords.marks

const shapeNames: Record<ConeShape, string> = { tall: say`tall`, disc: say`disc`, arrow: say`arrow` }

/** A shape of cones in a word, as a table has it. */
export const coneShapeName = (shape: ConeShape): string => shapeNames[shape]
