import type { CornerPass } from '@ochote/contract'
import {
  evidenceText,
  type IncidentKind,
  type Intensity,
  isDrivenKind,
  type LapKind,
  type MistakeCode,
  mistakeName,
  type PaceAdvice,
  paces,
  type RunEvent,
  type RunProgramme,
} from '@ochote/core'
import dayjs from 'dayjs'
import { asideWords, lapKindNames } from '../../shared/lap-words.ts'
import { metres, speedInWords } from '../../shared/staff-units.ts'

/** A moment as the clock on the wall shows it. */
export const wallClock = (at: string, seconds = true): string => dayjs(at).format(seconds ? 'HH:mm:ss' : 'HH:mm')

/** A lap as it is called within a sentence: nobody knows a lap 0. */
export const lapName = (lap: number): string => (lap < 1 ? 'out lap' : `lap ${lap}`)

/** Which lap it is and how many are left, as it is said in the car. */
export const lapInWords = (programme: RunProgramme | null, lap: number, kind: LapKind): string => {
  const name = lapKindNames[kind]
  const slow = kind === 'sighting' || kind === 'cool-down'
  if (slow && programme?.slowCap_mps) return `${name}, at most ${speedInWords(programme.slowCap_mps)}`
  if (kind !== 'coached' && kind !== 'timed') return name
  if (!programme) return `Lap ${lap}`
  const before = programme.sighting + (programme.warmUp ?? 0)
  return kind === 'coached'
    ? `Lap ${lap - before} of ${programme.coached}`
    : `Timed lap ${lap - before - programme.coached} of ${programme.timed ?? 0}`
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
      return `${to === null ? 'Slower' : `Down to ${paceName(to)}`}: two marks missed on lap ${reason.lap}`
    case 'same-safety-mistake':
      return `${to === null ? 'Slower' : `Down to ${paceName(to)}`}: ${mistakeName(reason.code).toLowerCase()} twice`
    case 'clean-laps':
      return `Up to ${paceName(to ?? 0)}: ${reason.laps} clean laps`
    case 'at-ceiling':
      return `${reason.laps} clean laps; top pace for today`
  }
}

/** Words for the amount of talk. */
export const talkWords: Record<Intensity, string> = { quiet: 'quiet', guided: 'guided', driven: 'every action' }

/** Words for incidents. */
export const incidentWords: Record<IncidentKind, string> = {
  contact: 'Contact',
  'off-and-stuck': 'Off and stuck',
  injury: 'Someone is hurt',
  'oil-or-debris': 'Oil or debris',
  spin: 'Spin',
  'off-and-on': 'Off and back on',
  breakdown: 'Breakdown',
  other: 'Something else',
}

/** Words for the action after an incident. */
export const actionWords = {
  'stopped-all': 'stopped all',
  'called-in': 'called in',
  'flag-shown': 'flag shown',
  talked: 'spoken to',
  watched: 'kept watching',
} as const

/** A run's event in a few words. */
export const runEventInWords = (event: RunEvent, nameOf: (cornerId: string) => string): string => {
  switch (event.kind) {
    case 'observation':
      return `${mistakeName(event.code)} at ${nameOf(event.cornerId)}, ${lapName(event.lap)}`
    case 'held-well':
      return `Held well at ${nameOf(event.cornerId)}, ${lapName(event.lap)}`
    case 'traffic':
      return `${event.way === 'went-by' ? 'Passed a car' : 'Let a car by'}${event.cornerId ? ` near ${nameOf(event.cornerId)}` : ''}, ${lapName(event.lap)}`
    case 'pace':
      return `Pace ${paceName(event.pace)} from lap ${event.lap + 1}: ${event.why}`
    case 'intensity':
      return `Talk: ${talkWords[event.intensity]}`
    case 'lap-kind':
      return `Lap ${event.lap}: ${lapKindNames[event.lapKind].toLowerCase()}`
    case 'set-aside':
      return event.reason === null ? `Lap ${event.lap} counts again` : `Lap ${event.lap} set aside: ${asideWords[event.reason]}`
    case 'passes-aside':
      return `${event.why === 'stop' ? 'Stop' : 'Flag'}: ${event.passes.map((p) => `${nameOf(p.cornerId)}, lap ${p.lap}`).join('; ')} not judged`
    case 'sent-out':
      return 'Sent out'
    case 'called-in':
      return 'Called in'
    case 'ended':
      return 'The run ended'
    case 'checked':
      return event.open.length === 0 ? 'Checked, all OK' : `Checked, not OK: ${event.open.join(', ')}`
    case 'car':
      return `Car after the run: brakes ${event.brakes}, tyres ${event.tyres}, other ${event.other}`
    case 'account':
      return `Own account: ${[event.best && `best ${nameOf(event.best)}`, event.worst && `worst ${nameOf(event.worst)}`, `“${event.word}”`].filter(Boolean).join(', ')}`
    case 'said':
      return `Said at the debrief about ${nameOf(event.cornerId)}: ${event.words}`
    case 'released':
      return 'The student may read what was found'
    case 'lap-driver':
      return `Lap ${event.lap} was driven by the ${event.driver}`
    case 'note':
      return `Note at ${metres(event.station_m)}${event.lap === null ? '' : `, ${lapName(event.lap)}`}: ${event.text}`
    case 'undo':
      return 'Undone'
  }
}

/** Evidence of a mistake in the positions at the corner just passed; undefined where they show nothing. */
export const shownInWords = (findings: CornerPass['findings'], code: MistakeCode): string | undefined => {
  const finding = findings.find((f) => f.code === code)
  // How much is fine is for the debrief: two seconds are for what was done.
  return finding && `positions say: ${evidenceText(finding, 'short')}`
}
