export { type BrakingSchool, brakingSchools } from './braking-school.ts'
export { type Mark, type MarkKind, markKinds, markOf } from './mark.ts'
