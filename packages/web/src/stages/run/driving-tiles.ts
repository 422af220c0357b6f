import {
  type Corner,
  type IncidentKind,
  incidentKinds,
  intensities,
  type MistakeCode,
  type MistakeGroup,
  mistakeGroups,
  mistakesOf,
  type PassOfCorner,
  type SetAsideReason,
  stopsAll,
} from '@ochote/core'
import type { useRunEvents } from '../../data/events/use-run-events.ts'
import { inside, say } from '../../language/say.ts'
import { mistakeName } from '../../shared/language/staff-words.ts'
import type { useCornerTouches } from './corner-touches.ts'
import { incidentWords, talkWords } from './run-words.ts'
import { pagesOf, type Tile } from './tablet.tsx'

type Events = ReturnType<typeof useRunEvents>
type Talk = (typeof intensities)[number]

/** Actions of a touch in the car. */
export type DrivingActions = {
  log: (code: MistakeCode | undefined) => void
  heldWell: () => void
  /** One step less or more talk. */
  talkBy: (step: -1 | 1) => void
  traffic: (way: 'went-by' | 'let-by') => void
  /** The lap is not judged, or it counts again. */
  setAside: (reason: 'spoilt' | 'flag' | null) => void
  coolDown: () => void
  /** The coming lap is the last one. */
  comeIn: () => void
  /** Agrees on another pace. */
  agree: (pace: number) => void
  /** The programme stays at this lap’s step for one more lap, or goes on to the next at once. */
  stepAgain: () => void
  stepOn: () => void
  atLine: () => void
  /** Opens the kinds of incident. */
  incident: () => void
  end: () => void
}

/** Where a touch is made: the lap and what it is for, the talk, why a pace is advised, and the passes of corners that traffic spoils here. */
type Here = {
  lap: number
  kind: ReturnType<Events['kindOf']>
  talk: Talk
  why: string
  spoilt: PassOfCorner[]
}

/** Actions of the ride-along on a run's events. `answer`: shows a touch at once, until it is stored. */
export const drivingActions = (
  events: Events,
  touches: Pick<ReturnType<typeof useCornerTouches>, 'corner' | 'lap' | 'evidenceOf'>,
  { lap, kind, talk, why, spoilt }: Here,
  answer: (words: string, stored: Promise<void>) => void,
): Omit<DrivingActions, 'atLine' | 'end' | 'incident'> => {
  const { corner, lap: cornerLap } = touches
  return {
    log: (code) => {
      if (!corner || !code) return
      const shown = touches.evidenceOf(code) !== undefined
      answer(say`${mistakeName(code)} at ${corner.name}`, events.observe(corner.id, code, cornerLap, 'ride-along', shown))
    },
    heldWell: () => {
      if (!corner) return
      answer(say`Held well at ${corner.name}`, events.tell({ kind: 'held-well', cornerId: corner.id, lap: cornerLap, via: 'ride-along' }))
    },
    talkBy: (step) => {
      const next = intensities[intensities.indexOf(talk) + step]
      if (next) void events.talk(next, lap)
    },
    traffic: (way) => void events.tell({ kind: 'traffic', lap, way, cornerId: corner?.id ?? null, passes: spoilt }),
    setAside: (reason) => void events.tell({ kind: 'set-aside', lap, reason }),
    coolDown: () => void events.tell({ kind: 'lap-kind', lap: kind === 'out' ? 1 : lap + 1, lapKind: 'cool-down' }),
    comeIn: () => void events.tell({ kind: 'lap-kind', lap: lap + 1, lapKind: 'in' }),
    agree: (pace) => void events.tell({ kind: 'pace', lap, pace, why }),
    stepAgain: () => void events.tell({ kind: 'step', lap: lap + 1, step: events.stepOf(lap)?.number ?? 0 }),
    stepOn: () => void events.tell({ kind: 'step', lap, step: (events.stepOf(lap)?.number ?? 0) + 1 }),
  }
}

/** The likely mistakes of the corner, those that positions show first in colour. */
export const mistakeTiles = (
  { codes, again, evidenceOf, timesOf }: Pick<ReturnType<typeof useCornerTouches>, 'codes' | 'again' | 'evidenceOf' | 'timesOf'>,
  log: DrivingActions['log'],
): Tile[] =>
  codes.map((code, i) => {
    const evidence = evidenceOf(code)
    const name = mistakeName(code)
    return {
      // By its place: what stands there may change while a finger is on it.
      id: `likely ${i}`,
      number: i + 1,
      words: again === code ? say`Same again: ${inside(name)}` : name,
      under: [timesOf(code), evidence].filter(Boolean).join(' · ') || undefined,
      tone: evidence ? 'shown' : 'plain',
      onTap: () => log(code),
    }
  })

const groupNames: Record<MistakeGroup, string> = {
  'eyes-hands': say`Eyes and hands`,
  brakes: say`Brakes`,
  line: say`Line`,
  'throttle-gears': say`Throttle and gears`,
  'car-aids': say`Car and aids`,
  'traffic-flags-calls': say`Traffic, flags, calls`,
}

/** Every mistake by its group: a touch opens the group, a second one logs. */
export const groupTiles = (open: (group: MistakeGroup) => void): Tile[] =>
  mistakeGroups.map((group, i) => ({ id: group, number: i + 1, words: groupNames[group], tone: 'quiet', onTap: () => open(group) }))

/** Targets on a page beside undo and the way back. */
const PER_PAGE = 5

/** The mistakes of a group, page by page; keys count on over the pages. */
export const groupPages = (group: MistakeGroup, rider: boolean, log: (code: MistakeCode) => void): { name: string; tiles: Tile[] }[] =>
  pagesOf(
    mistakesOf(group, rider).map((code, i): Tile => ({ id: code, number: i + 1, words: mistakeName(code), onTap: () => log(code) })),
    PER_PAGE,
  ).map((tiles, k) => ({ name: k === 0 ? groupNames[group] : String(k + 1), tiles }))

/** Incidents as they are seen from the car, those that stop everybody first; `own`: of this car, or of another. */
export const incidentPages = (own: boolean, turn: () => void, log: (what: IncidentKind) => void): { name: string; tiles: Tile[] }[] => {
  const whose: Tile = {
    id: 'whose',
    words: own ? say`It is this car` : say`It is another car`,
    under: say`touch for the other`,
    tone: 'chosen',
    onTap: turn,
  }
  const tile = (what: IncidentKind): Tile => ({
    id: what,
    words: incidentWords[what],
    under: stopsAll(what) ? say`stops everybody` : undefined,
    onTap: () => log(what),
  })
  return [incidentKinds.filter(stopsAll), incidentKinds.filter((what) => !stopsAll(what))].map((kinds, k) => ({
    name: k === 0 ? say`Stops all` : say`Others`,
    tiles: [...kinds.map(tile), whose],
  }))
}

/** Tiles for the lap; an advised pace takes the place of the cool-down. */
export const lapTiles = (
  corner: Corner | undefined,
  talk: Talk,
  advised: { pace: number | null; words: string },
  { heldWell, agree, coolDown, talkBy, traffic }: DrivingActions,
): Tile[] => {
  const { pace } = advised
  return [
    { id: 'held', words: say`Held well${corner ? say` at ${corner.name}` : ''}`, onTap: heldWell },
    pace === null ? coolDownTile(coolDown) : { id: 'pace', words: advised.words, tone: 'shown', onTap: () => agree(pace) },
    { id: 'quieter', words: say`Quieter`, under: say`now: ${talkWords[talk]}`, tone: 'quiet', onTap: () => talkBy(-1) },
    { id: 'more', words: say`More calls`, under: say`now: ${talkWords[talk]}`, tone: 'quiet', onTap: () => talkBy(1) },
    { id: 'went-by', words: say`Passed a car`, tone: 'quiet', onTap: () => traffic('went-by') },
    { id: 'let-by', words: say`Let a car by`, tone: 'quiet', onTap: () => traffic('let-by') },
  ]
}

/** Tiles for the laps to come, and for whether this one counts. */
export const programmeTiles = (
  hasSteps: boolean,
  aside: SetAsideReason | null,
  { coolDown, comeIn, setAside, stepAgain, stepOn }: DrivingActions,
): Tile[] => [
  ...(hasSteps
    ? [
        { id: 'again', words: say`This step once more`, under: say`on the next lap`, tone: 'quiet' as const, onTap: stepAgain },
        { id: 'on', words: say`Next step now`, under: say`pace and talk`, tone: 'quiet' as const, onTap: stepOn },
      ]
    : []),
  coolDownTile(coolDown),
  { id: 'in', words: say`In next lap`, tone: 'quiet', onTap: comeIn },
  ...(aside === null
    ? [
        {
          id: 'spoilt',
          words: say`Set this lap aside`,
          under: say`spoilt: not judged`,
          tone: 'quiet' as const,
          onTap: () => setAside('spoilt'),
        },
        { id: 'flag', words: say`Flag on this lap`, under: say`not judged`, tone: 'quiet' as const, onTap: () => setAside('flag') },
      ]
    : [
        { id: 'counts', words: say`This lap counts again`, under: say`set aside now`, tone: 'quiet' as const, onTap: () => setAside(null) },
      ]),
]

/** Tiles for the run as a whole; `armed`: one more touch ends it. */
export const runTiles = (hasPosition: boolean, armed: boolean, { atLine, incident, end }: DrivingActions): Tile[] => [
  { id: 'incident', words: say`Incident`, under: say`this car or another`, tone: 'quiet', onTap: incident },
  ...(hasPosition ? [] : [{ id: 'line', words: say`At the line now`, under: say`no position: following the plan`, onTap: atLine }]),
  armed
    ? { id: 'end', words: say`Touch again: end the run`, under: say`the log so far is kept`, tone: 'shown', onTap: end }
    : { id: 'end', words: say`End the run`, under: say`two touches`, tone: 'quiet', onTap: end },
]

const coolDownTile = (coolDown: () => void): Tile => ({ id: 'cool', words: say`Cool-down next lap`, tone: 'quiet', onTap: coolDown })
