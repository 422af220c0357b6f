import type { CornerPass } from '@ochote/contract'
import {
  type IncidentKind,
  type Intensity,
  isDrivenKind,
  type LapKind,
  type MistakeCode,
  type PaceAdvice,
  paces,
  type RunEvent,
  type RunProgramme,
} from '@ochote/core'
import dayjs from 'dayjs'
import { inside, say } from '../../language/say.ts'
import { metres, speedInWords } from '../../language/staff-units.ts'
import { evidenceText, mistakeName } from '../../shared/language/staff-words.ts'
import { asideWords, lapKindNames } from '../../shared/lap-words.ts'

/** A moment as the clock on the wall shows it. */
export const wallClock = (at: string, seconds = true): string => dayjs(at).format(seconds ? 'HH:mm:ss' : 'HH:mm')

/** A lap as it is called within a sentence: nobody knows a lap 0. */
export const lapName = (lap: number): string => (lap < 1 ? say`out lap` : say`lap ${lap}`)

/** Which lap it is and how many are left, as it is said in the car. */
export const lapInWords = (programme: RunProgramme | null, lap: number, kind: LapKind): string => {
  const name = lapKindNames[kind]
  const slow = kind === 'sighting' || kind === 'cool-down'
  if (slow && programme?.slowCap_mps) return say`${name}, at most ${speedInWords(programme.slowCap_mps)}`
  if (kind !== 'coached' && kind !== 'timed') return name
  if (!programme) return say`Lap ${lap}`
  const before = programme.sighting + (programme.warmUp ?? 0)
  return kind === 'coached'
    ? say`Lap ${lap - before} of ${programme.coached}`
    : say`Timed lap ${lap - before - programme.coached} of ${programme.timed ?? 0}`
}

/** Number of coached and timed laps still to come after this one. */
export const lapsLeft = (programme: RunProgramme | null, lap: number, kind: LapKind): number | null => {
  if (!programme) return null
  const all = programme.coached + (programme.timed ?? 0)
  if (kind === 'out' || kind === 'sighting' || kind === 'warm-up') return all
  return isDrivenKind(kind) ? Math.max(0, all - (lap - programme.sighting - (programme.warmUp ?? 0))) : 0
}

/** Minutes and seconds of a run. */
export const clockInWords = (time_s: number): string => `${Math.floor(time_s / 60)}:${String(Math.floor(time_s % 60)).padStart(2, '0')}`

/** The name of a pace. */
export const paceName = (pace: number): string => Object.entries(paces).find(([, p]) => Math.abs(p - pace) < 1e-6)?.[0] ?? pace.toFixed(2)

/** Advice on the pace with its reason; null where there is nothing to say. */
export const adviceInWords = ({ to, reason }: PaceAdvice): string | null => {
  if (!reason) return null
  switch (reason.kind) {
    case 'two-misses':
      return say`${to === null ? say`Slower` : say`Down to ${paceName(to)}`}: two marks missed on lap ${reason.lap}`
    case 'same-safety-mistake':
      return say`${to === null ? say`Slower` : say`Down to ${paceName(to)}`}: ${inside(mistakeName(reason.code))} twice`
    case 'clean-laps':
      return say`Up to ${paceName(to ?? 0)}: ${reason.laps} clean laps`
    case 'at-ceiling':
      return say`${reason.laps} clean laps; top pace for today`
  }
}

/** How often a mistake was logged at a corner in this run, and how it changes. */
export const timesInWords = (times: number, trend: 'smaller' | 'bigger' | 'same' | null): string => {
  const change =
    trend === 'smaller' ? say`getting smaller` : trend === 'bigger' ? say`getting bigger` : trend === 'same' ? say`as before` : null
  return [times === 1 ? say`logged once here` : say`logged ${times} times here`, change].filter(Boolean).join(', ')
}

/** Words for the amount of talk. */
export const talkWords: Record<Intensity, string> = { quiet: say`quiet`, guided: say`guided`, driven: say`every action` }

/** Words for incidents. */
export const incidentWords: Record<IncidentKind, string> = {
  contact: say`Contact`,
  'off-and-stuck': say`Off and stuck`,
  injury: say`Someone is hurt`,
  'oil-or-debris': say`Oil or debris`,
  spin: say`Spin`,
  'off-and-on': say`Off and back on`,
  breakdown: say`Breakdown`,
  other: say`Something else`,
}

/** Words for the action after an incident. */
export const actionWords = {
  'stopped-all': say`stopped all`,
  'called-in': say`called in`,
  'flag-shown': say`flag shown`,
  talked: say`spoken to`,
  watched: say`kept watching`,
} as const

/** A run's event in a few words. */
export const runEventInWords = (event: RunEvent, nameOf: (cornerId: string) => string): string => {
  switch (event.kind) {
    case 'observation':
      return say`${mistakeName(event.code)} at ${nameOf(event.cornerId)}, ${lapName(event.lap)}`
    case 'held-well':
      return say`Held well at ${nameOf(event.cornerId)}, ${lapName(event.lap)}`
    case 'traffic':
      return `${event.way === 'went-by' ? say`Passed a car` : say`Let a car by`}${event.cornerId ? say` near ${nameOf(event.cornerId)}` : ''}, ${lapName(event.lap)}`
    case 'pace':
      return say`Pace ${paceName(event.pace)} from lap ${event.lap + 1}: ${event.why}`
    case 'step':
      return say`From lap ${event.lap} step ${event.step + 1} of the programme`
    case 'intensity':
      return say`Talk: ${talkWords[event.intensity]}`
    case 'lap-kind':
      return say`Lap ${event.lap}: ${inside(lapKindNames[event.lapKind])}`
    case 'set-aside':
      return event.reason === null ? say`Lap ${event.lap} counts again` : say`Lap ${event.lap} set aside: ${asideWords[event.reason]}`
    case 'passes-aside':
      return say`${event.why === 'stop' ? say`Stop` : say`Flag`}: ${event.passes.map((p) => say`${nameOf(p.cornerId)}, lap ${p.lap}`).join('; ')} not judged`
    case 'sent-out':
      return say`Sent out`
    case 'called-in':
      return say`Called in`
    case 'ended':
      return say`The run ended`
    case 'checked':
      return event.open.length === 0 ? say`Checked, all OK` : say`Checked, not OK: ${event.open.join(', ')}`
    case 'car':
      return say`Car after the run: brakes ${event.brakes}, tyres ${event.tyres}, other ${event.other}`
    case 'account':
      return say`Own account: ${[event.best && say`best ${nameOf(event.best)}`, event.worst && say`worst ${nameOf(event.worst)}`, `“${event.word}”`].filter(Boolean).join(', ')}`
    case 'said':
      return say`Said at the debrief about ${nameOf(event.cornerId)}: ${event.words}`
    case 'released':
      return say`The student may read what was found`
    case 'lap-driver':
      return say`Lap ${event.lap} was driven by the ${event.driver}`
    case 'note':
      return say`Note at ${metres(event.station_m)}${event.lap === null ? '' : `, ${lapName(event.lap)}`}: ${event.text}`
    case 'undo':
      return say`Undone`
  }
}

/** Evidence of a mistake in the positions at the corner just passed; undefined where they show nothing. */
export const shownInWords = (findings: CornerPass['findings'], code: MistakeCode): string | undefined => {
  const finding = findings.find((f) => f.code === code)
  // How much is fine is for the debrief: two seconds are for what was done.
  return finding && say`positions say: ${evidenceText(finding, 'short')}`
}
