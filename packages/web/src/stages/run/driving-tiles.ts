import { type Corner, intensities, type MistakeCode, type PassOfCorner, type SetAsideReason } from '@ochote/core'
import type { useRunEvents } from '../../data/events/use-run-events.ts'
import { inside, say } from '../../language/say.ts'
import { mistakeName } from '../../shared/language/staff-words.ts'
import type { useCornerTouches } from './corner-touches.ts'
import { talkWords } from './run-words.ts'
import type { Tile } from './tablet.tsx'

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
  atLine: () => void
  end: () => void
}

/** Where a touch is made: the lap and what it is for, the talk, why a pace is advised, and the passes of corners that traffic spoils here. */
type Here = { lap: number; kind: ReturnType<Events['kindOf']>; talk: Talk; why: string; spoilt: PassOfCorner[] }

/** Actions of the ride-along on a run's events. `answer`: shows a touch at once, until it is stored. */
export const drivingActions = (
  events: Events,
  touches: Pick<ReturnType<typeof useCornerTouches>, 'corner' | 'lap' | 'evidenceOf'>,
  { lap, kind, talk, why, spoilt }: Here,
  answer: (words: string, stored: Promise<void>) => void,
): Omit<DrivingActions, 'atLine' | 'end'> => {
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
      if (next) void events.talk(next)
    },
    traffic: (way) => void events.tell({ kind: 'traffic', lap, way, cornerId: corner?.id ?? null, passes: spoilt }),
    setAside: (reason) => void events.tell({ kind: 'set-aside', lap, reason }),
    coolDown: () => void events.tell({ kind: 'lap-kind', lap: kind === 'out' ? 1 : lap + 1, lapKind: 'cool-down' }),
    comeIn: () => void events.tell({ kind: 'lap-kind', lap: lap + 1, lapKind: 'in' }),
    agree: (pace) => void events.tell({ kind: 'pace', lap, pace, why }),
  }
}

/** The likely mistakes of the corner, those that positions show first in colour. */
export const mistakeTiles = (
  { codes, again, evidenceOf }: Pick<ReturnType<typeof useCornerTouches>, 'codes' | 'again' | 'evidenceOf'>,
  log: DrivingActions['log'],
): Tile[] =>
  codes.map((code, i) => {
    const evidence = evidenceOf(code)
    const name = mistakeName(code)
    return {
      id: code,
      number: i + 1,
      words: again === code ? say`Same again: ${inside(name)}` : name,
      under: evidence,
      tone: evidence ? 'shown' : 'plain',
      onTap: () => log(code),
    }
  })

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

/** Tiles for the run as a whole. */
export const runTiles = (
  hasPosition: boolean,
  aside: SetAsideReason | null,
  { coolDown, comeIn, atLine, setAside, end }: DrivingActions,
): Tile[] => [
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
  ...(hasPosition ? [] : [{ id: 'line', words: say`At the line now`, under: say`no position: following the plan`, onTap: atLine }]),
  { id: 'end', words: say`End the run`, tone: 'quiet', onTap: end },
]

const coolDownTile = (coolDown: () => void): Tile => ({ id: 'cool', words: say`Cool-down next lap`, tone: 'quiet', onTap: coolDown })
