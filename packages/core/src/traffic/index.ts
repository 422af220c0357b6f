export { type LineSign, lineSign } from './board-and-flag.ts'
export { type Gap, gapsOnTrack, SAFE_GAP_S, type TrackCar } from './gaps.ts'
export { type Meeting, meetings } from './meeting.ts'
export { planRelease, type Release, type ReleaseConflict, type Released, releaseConflict } from './release.ts'
export {
  type Catch,
  firstCatch,
  predictedLap_s,
  type ReleasePath,
  releasePaths,
  type Slack,
  slackOf,
  tellsOfPace,
} from './release-picture.ts'
export {
  lapOfRotation,
  openStretches,
  type RotationLap,
  type RotationPlace,
  rotationLength,
  rotationPlaces,
  rotationTable,
  type Stretch as OpenStretch,
} from './rotation.ts'
export { type RowTaken, turnsTaken } from './row-turns.ts'
