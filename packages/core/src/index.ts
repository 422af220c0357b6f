export {
  type Call,
  type CallHand,
  type CallHands,
  type CallOptions,
  type CallSheet,
  type CallTiming,
  callKey,
  callSheet,
  type DroppedCall,
  type Intensity,
  inCarTiming,
  intensities,
  intensityCaps,
  radioTiming,
} from './calls/call-sheet.ts'
export {
  type CallKind,
  callKinds,
  checkPhraseBook,
  type Language,
  languages,
  type Phrase,
  type PhraseBook,
  type PhraseProblem,
  type Phrases,
  phraseBooks,
  phraseFor,
} from './calls/phrases.ts'
export {
  planCalls,
  type Stretch,
  stationAtTime,
  tightCorners,
  tooFastToSpeak,
  type UnspeakableForm,
  unspeakableForms,
} from './calls/plan-calls.ts'
export { judgePractice, type PracticedCall } from './calls/practice.ts'
export { carryEdits, carryStation, checkSamePlace, inPlaneOf } from './circuit/carry.ts'
export { buildCircuit, type Circuit, type CircuitOptions } from './circuit/circuit.ts'
export { type CornerEdit, type CornerGroup, editCorners, findGroups } from './circuit/corner-edits.ts'
export { type Corner, type CornerShape, findCorners } from './circuit/corners.ts'
export { type FromLapsOptions, surveyFromLaps } from './circuit/from-laps.ts'
export { surveyFromOutline } from './circuit/from-outline.ts'
export { type GeoOrigin, type TangentPlane, tangentPlane } from './circuit/geodesy.ts'
export {
  findGround,
  type GroundItem,
  type GroundKind,
  groundKinds,
  type ReferenceKind,
  type RunOffSurface,
  referenceKinds,
  runOffSurfaces,
} from './circuit/ground.ts'
export type { Pin } from './circuit/pin.ts'
export { type Place, placeOn } from './circuit/place.ts'
export { atStation, distanceAhead, isWithin, placeAt, signedDistance, stationIndex, stationInLap, wrapStation } from './circuit/station.ts'
export { checkCrossing, checkSurvey, reverseSurvey, type Survey } from './circuit/survey.ts'
export { makeVenue, type Venue, type VenueNotes } from './circuit/venue.ts'
export { type ColourVision, checkScheme, type SameView, type SchemeProblem, sameViews } from './cones/check-scheme.ts'
export { conesForLevel, type Fading, fadeCones } from './cones/fading.ts'
export { type HiddenMark, hiddenMarks } from './cones/hidden.ts'
export {
  type CheckRow,
  type ConeReport,
  type ConeState,
  checkList,
  coneStates,
  type LayingError,
  type LayingRow,
  layingError,
  layingSheet,
  layingStart,
} from './cones/laying.ts'
export {
  CLEARANCE_M,
  type Cone,
  type ConeHands,
  type ConeMove,
  handDifference,
  type Lock,
  lineInUse,
  type Nudge,
  nearestReference,
  type PlacementOptions,
  placeCones,
  type Unplaced,
} from './cones/placement.ts'
export {
  type ConeColour,
  type ConeKind,
  type ConeRule,
  type ConeScheme,
  type ConeShape,
  coneColours,
  coneKinds,
  coneSchemes,
  coneShapes,
  isConeKind,
} from './cones/scheme.ts'
export { type Served, type SharedGroup, shareCones, waitFrom } from './cones/share.ts'
export { type ConeStock, type DroppedGroup, fitStock } from './cones/stock.ts'
export {
  type CornerNumbers,
  type CornerWarning,
  cornerNumbers,
  cornerWarnings,
  type Shift,
  shiftPoints,
} from './corner-numbers/corner-metrics.ts'
export {
  EMERGENCY_SHARE,
  type Grace,
  LEAST_GRACE_S,
  runOffFriction,
  type StraightOn,
  type StraightOnCase,
} from './corner-numbers/safety.ts'
export { CONE_HEIGHT_M, EYE_HEIGHT_M, LEAST_SIGHT_S, type LookPlace, lookFrom, type MarkSight, sightAhead } from './corner-numbers/sight.ts'
export type { CornerWorth } from './corner-numbers/worth.ts'
export { type Level, levelReaction_s, levels } from './day/level.ts'
export {
  type DrillKind,
  type DrillResult,
  type DrillSizes,
  type DrillTarget,
  drillKinds,
  drillResults,
  drillTarget,
  usualSizes,
} from './drills/drill.ts'
export { type LapTrace, planTrace } from './drive/lap-trace.ts'
export { CoreError, type ErrorCode } from './errors/errors.ts'
export {
  type Advice,
  type AdviceLimits,
  adviceLimitsOf,
  type Consistency,
  consistencyOf,
  type PassMarks,
  type PassOff,
  type Praise,
  phaseNames,
  type RootSeen,
  shareOfGap,
  whatHeld,
  whatToSay,
  worthOf,
} from './findings/advice.ts'
export {
  type AnalyseSettings,
  type Analysis,
  analyseLog,
  type Finding,
  type Reference,
  type Untold,
} from './findings/analyse.ts'
export { type Bank, type BankPiece, idealLap } from './findings/bank.ts'
export { type BrakeShape, brakeShape, gripOfTrace, phasesBeside, splicedTrace } from './findings/beside.ts'
export { type CornerDrawingColumns, drawCorner } from './findings/drawing.ts'
export { type CornerPassed, type CornerWatch, cornerWatch, type LiveFinding } from './findings/live.ts'
export type { LogQuality } from './findings/quality.ts'
export {
  type OwnThreshold,
  type OwnThresholds,
  ownThresholds,
  thresholdRange,
  thresholds,
} from './findings/thresholds.ts'
export { writeCircuitCsv } from './formats/circuit-csv.ts'
export { writeCircuitGpx, writeCircuitKml } from './formats/circuit-kml.ts'
export { readDrivenPath } from './formats/driven-path.ts'
export { readGround, writeVenueGeoJson } from './formats/ground-geojson.ts'
export { joinLogs } from './formats/join-logs.ts'
export { readJsonLine, writeJsonLine } from './formats/json-lines.ts'
export { writeLayingGeoJson, writeLayingGpx } from './formats/laying-files.ts'
export { writeLineCsv } from './formats/line-csv.ts'
export { writeLogCsv } from './formats/log-csv.ts'
export { logOf, readLog } from './formats/log-file.ts'
export {
  type Channel,
  channels,
  channelUnits,
  type GuessedChannel,
  guessMapping,
  type LogMapping,
  mappingOf,
} from './formats/log-mapping.ts'
export { type LogFile, type LogForm, logForms, readLogPieces, readLogText } from './formats/log-reader.ts'
export type { LogColumn, LogTable } from './formats/log-table.ts'
export { type NmeaReader, nmeaChecksum, nmeaReader, writeNmea } from './formats/nmea.ts'
export { type ReadCircuitOptions, readCircuit } from './formats/read-circuit.ts'
export { writeColumns, writeRows } from './formats/table.ts'
export { DEFAULT_MARGIN_M, type LineConstraints, offsetBounds } from './line/bounds.ts'
export { type FastestOptions, fastestLine } from './line/fastest.ts'
export { type LineMethod, type LineWish, lineMethods, solveLine, timedMethods } from './line/methods.ts'
export { type SmoothestOptions, smoothestLine } from './line/smoothest.ts'
export { type Alignment, alignTrends } from './log/align.ts'
export { type CarFollower, carFollower, type FixTrouble, type FollowStep, fixTroubles, type LivePlace } from './log/follow.ts'
export { type Lap, type SkippedLap, splitLaps } from './log/laps.ts'
export { type Log, logChannels } from './log/log.ts'
export { type MatchedLog, matchLog } from './log/match.ts'
export type { DeviceHello, ReceivedFix, ReceiverLine } from './log/received-fix.ts'
export { type Mark, type MarkKind, markKinds, markOf } from './marks/marks.ts'
export { type BrakingSchool, brakingSchools } from './marks/school.ts'
export {
  type LogCode,
  logCodes,
  type MistakeCode,
  type MistakeWords,
  mistakeCodes,
  mistakes,
  type Skill,
  type SuggestedCode,
  skills,
} from './mistakes/mistakes.ts'
export { centreLine, type Line, lineFromOffsets } from './path/line.ts'
export { findTurnings, type Turning } from './path/turning.ts'
export { makePlan, type Plan, type PlanSettings, planLine, planOnLine } from './plan/plan.ts'
export { createPlanner, type PlanSource } from './plan/planner.ts'
export { cappedProfile } from './profile/capped.ts'
export { type GripShare, PACE_CEILING, type PaceName, paces, type Surface, surfaces, uniformGrip } from './profile/grip.ts'
export { type Profile, type ProfileInput, solveProfile } from './profile/profile.ts'
export { summaryInWords, type VehicleSummary, vehicleSummary } from './profile/vehicle-summary.ts'
export { type Outcome, outcomeOf, type Said, type StuckRate, stuckRates } from './progress/corrections.ts'
export { type Difference, differenceOf, type Share, shareInWords, shareOf } from './progress/estimate.ts'
export {
  type Focus,
  type LikelyHints,
  likelyMistakes,
  nextFocus,
  type Seen,
  type StuckAt,
  type Tally,
  tallySeen,
} from './progress/focus.ts'
export { type DayGap, forgetting } from './progress/forgetting.ts'
export { type Former, type GroupPass, type GroupSeen, type GroupTally, groupPicture, type Helped, helpedBy } from './progress/group.ts'
export { type HandOverInput, handOver } from './progress/hand-over.ts'
export { joinRun, type RunKnown, rootSeenToo, type SeenAt } from './progress/joined.ts'
export { missRates } from './progress/miss-rate.ts'
export { type LapMiss, type PaceAdvice, type PaceReason, paceAdvice, paceCeiling, paceSteps } from './progress/pace-step.ts'
export type { PassKnown } from './progress/passes.ts'
export { planRisks } from './progress/risks.ts'
export { levelAhead, SKILL_ASKS, type SkillStanding, skillStandings } from './progress/skill-levels.ts'
export { type SkillCell, skillPicture } from './progress/skill-picture.ts'
export {
  type Emergency,
  emergencies,
  type FirstAction,
  judgeAnswer,
  type KeyedQuestion,
  makeQuiz,
  nextQuestions,
  type QuizAnswer,
  type QuizChoice,
  type QuizHistory,
  type QuizPicture,
  type QuizQuestion,
  type QuizSource,
  quizGaps,
} from './quiz/quiz.ts'
export { type Drive, type DriveOptions, simulateDrive } from './simulate/drive.ts'
export { habitsOf, seedOf } from './simulate/habits.ts'
export type { Correction } from './simulate/learning.ts'
export { receiverAt } from './simulate/receiver.ts'
export type { Habit, MadeMistake } from './simulate/student.ts'
export { type Gap, gapsOnTrack, planTimeAt, planTimeBetween, SAFE_GAP_S, type TrackCar } from './traffic/gaps.ts'
export { type Meeting, meetings } from './traffic/meeting.ts'
export { planRelease, type Release, type ReleaseConflict, type Released, releaseConflict } from './traffic/release.ts'
export {
  openStretches,
  type RotationLap,
  type RotationPlace,
  rotationLength,
  rotationPlaces,
  rotationTable,
  type Stretch as OpenStretch,
} from './traffic/rotation.ts'
export { AIR_DENSITY_KGPM3, GRAVITY_MPS2 } from './units/constants.ts'
export { degrees, feet, kmh, mph, radians } from './units/convert.ts'
export { formatDifference, formatDistance, formatLapTime, formatSpeed, type UnitSystem, unitSystems } from './units/format.ts'
export { type Random, seededRandom } from './units/random.ts'
export { engineSpeed, gearAt } from './vehicle/gears.ts'
export { vehicleTemplates } from './vehicle/templates.ts'
export { checkVehicle, type Vehicle, type VehicleKind, vehicleKinds, vehicleRanges } from './vehicle/vehicle.ts'
export { describeError, type ErrorWords } from './words/error-words.ts'
export { evidenceInWords, type FindingWords, findingWords, sayAdvice } from './words/finding-words.ts'
