export { buildCircuit, type CircuitOptions } from './build-circuit.ts'
export { carryByCorner, carryEdits, carryStation, checkSamePlace, inPlaneOf } from './carry.ts'
export { assumedStretches, type Circuit, isWidthAssumed } from './circuit.ts'
export { type CornerEdit, type CornerGroup, editCorners, findGroups } from './corner-edits.ts'
export { type Corner, type CornerShape, cornerName, cornerOf, findCorners } from './corners.ts'
export { type Doubt, type DoubtKind, doubtKinds, doubtsOf } from './doubts.ts'
export { type FromLapsOptions, surveyFromLaps } from './from-laps.ts'
export { surveyFromOutline } from './from-outline.ts'
export type { GeoOrigin } from './geo-origin.ts'
export { type TangentPlane, tangentPlane } from './geodesy.ts'
export {
  findGround,
  type GroundItem,
  type GroundKind,
  groundKinds,
  type ReferenceKind,
  type RunOffSurface,
  referenceKinds,
  runOffSurfaces,
} from './ground.ts'
export { nearestReference } from './nearest-reference.ts'
export type { Pin } from './pin.ts'
export { type Place, placeOn } from './place.ts'
export { followGround, sharedItem } from './share-ground.ts'
export { atStation, distanceAhead, isWithin, nearestStation, placeAt, signedDistance, stationIndex, wrapStation } from './station.ts'
export { beginningAt, checkCrossing, checkSurvey, reverseSurvey, type Survey, turnedToNorth, withWidth } from './survey.ts'
export { makeVenue, type Venue, type VenueNotes } from './venue.ts'
export { VERGE_M, type VergeWidths, vergeWidths } from './verges.ts'
