import { type DayEvent, mistakeName } from '@ochote/core'
import { actionWords, incidentWords } from './run-words.ts'

/** A day's event in a few words. */
export const dayEventInWords = (event: DayEvent, nameOf: (cornerId: string) => string): string => {
  const at = (cornerId: string | null): string => (cornerId ? ` at ${nameOf(cornerId)}` : '')
  switch (event.kind) {
    case 'cone-report':
      return `Cone ${event.coneId}: ${event.state}`
    case 'acknowledged':
      return `Briefing acknowledged: ${event.part}`
    case 'radio-heard':
      return 'Radio heard'
    case 'quiz-answer':
      return `Quiz ${event.right ? 'right' : 'wrong'}${at(event.cornerId)}`
    case 'undo':
      return 'Undone'
    case 'flag':
      return `${event.flag} ${event.up ? 'shown' : 'down'}${at(event.cornerId)}`
    case 'stop':
      return `All stopped: ${event.why}`
    case 'restart':
      return event.decision === 'go-on' ? 'Decided: go on' : 'Decided: the session ends'
    case 'incident':
      return `${incidentWords[event.what]}${at(event.cornerId)}${event.carNumber ? `, car ${event.carNumber}` : ''}: ${actionWords[event.action]}`
    case 'release':
      return `Release of ${event.runIds.length}, every ${event.interval_s} s`
    case 'row':
      return `Train of ${event.runIds.length} from lap ${event.lap}`
    case 'radio':
      return `Radio to ${event.to.length}: ${event.text}`
    case 'radio-answer':
      return 'Radio: heard'
    case 'drill':
      return `Pad, ${event.drill}, ${event.surface}: ${event.result}`
    case 'drill-said':
      return `Pad, said: ${event.sentence}`
    case 'car-seen':
      return `Car ${event.carNumber}${at(event.cornerId)}: ${event.code ? mistakeName(event.code) : 'held well'}`
    case 'teaching-changed':
      return `Changed${at(event.cornerId)} because of “${mistakeName(event.code).toLowerCase()}”: ${event.what}`
    case 'weather':
      return `${event.simulated ? 'Simulated weather station' : 'Weather station'}: ${event.rain}, ${event.air_C} °C`
    case 'beam':
      return `${event.simulated ? 'Simulated timing beam' : 'Timing beam'}: car ${event.carNumber}${event.lapTime_s === null ? '' : `, ${event.lapTime_s.toFixed(2)} s`}`
  }
}
