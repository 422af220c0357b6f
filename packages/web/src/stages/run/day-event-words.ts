import { type DayEvent, isKnown } from '@ochote/core'
import { inside, say } from '../../language/say.ts'
import { mistakeName } from '../../shared/language/staff-words.ts'
import { actionWords, incidentWords } from './run-words.ts'

/** A day's event in a few words. */
export const dayEventInWords = (event: DayEvent, nameOf: (cornerId: string) => string): string => {
  const at = (cornerId: string | null): string => (cornerId ? say` at ${nameOf(cornerId)}` : '')
  switch (event.kind) {
    case 'cone-report':
      return say`Cone ${event.coneId}: ${event.state}`
    case 'acknowledged':
      return say`Briefing acknowledged: ${event.part}`
    case 'radio-heard':
      return say`Radio heard`
    case 'quiz-answer':
      return `Quiz ${event.right ? say`right` : say`wrong`}${at(event.cornerId)}`
    case 'recalled':
      return say`Driven from memory: ${event.marks.filter((m) => isKnown(m, event.mode)).length} of ${event.marks.length} known`
    case 'hands':
      return say`${event.hands} hands${at(event.cornerId)}`
    case 'undo':
      return say`Undone`
    case 'flag':
      return `${event.flag} ${event.up ? say`shown` : say`down`}${at(event.cornerId)}${event.runId ? say`, to one car` : ''}`
    case 'stop':
      return say`All stopped: ${event.why}`
    case 'restart':
      return event.decision === 'go-on' ? say`Decided: go on` : say`Decided: the session ends`
    case 'incident':
      return `${incidentWords[event.what]}${at(event.cornerId)}${event.carNumber ? say`, car ${event.carNumber}` : ''}: ${actionWords[event.action]}`
    case 'release':
      return say`Release of ${event.runIds.length}, every ${event.interval_s} s`
    case 'row':
      return say`Train of ${event.runIds.length} from lap ${event.lap}`
    case 'radio':
      return say`Radio to ${event.to.length}: ${event.text}`
    case 'radio-answer':
      return say`Radio: heard`
    case 'drill':
      return say`Pad, ${event.drill}, ${event.surface}: ${event.result}`
    case 'drill-said':
      return say`Pad, said: ${event.sentence}`
    case 'car-seen':
      return say`Car ${event.carNumber}${at(event.cornerId)}: ${event.code ? mistakeName(event.code) : say`held well`}`
    case 'teaching-changed':
      return say`Changed${at(event.cornerId)} because of “${inside(mistakeName(event.code))}”: ${event.what}`
    case 'weather':
      return `${event.simulated ? say`Simulated weather station` : say`Weather station`}: ${event.rain}, ${event.air_C} °C`
    case 'beam':
      return say`${event.simulated ? say`Simulated timing beam` : say`Timing beam`}: car ${event.carNumber}${event.lapTime_s === null ? '' : `, ${event.lapTime_s.toFixed(2)} s`}`
  }
}
