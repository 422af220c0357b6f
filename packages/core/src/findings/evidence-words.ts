import { kmh } from '../units/convert.ts'
import type { Evidence } from './judge.ts'
import type { SuggestedCode } from './mistakes.ts'

const metres = (value: number | undefined): string => `${Math.abs(value ?? 0).toFixed(0)} m`
const fine = (value: number | undefined): string => `${Math.abs(value ?? 0).toFixed(1)} m`
const speed = (value: number | undefined): string => `${Math.round(kmh(value ?? 0))} km/h`

/** The act in plain words with its size, the reference's doing and what is allowed; never about the person. */
export const evidenceInWords = (code: SuggestedCode, e: Evidence): string => {
  switch (code) {
    case 'brake-early':
      return `braked ${metres(e.later_m)} before the mark (up to ${metres(e.allowed_m)} is fine)`
    case 'brake-late':
      return `braked ${metres(e.later_m)} after the mark (up to ${metres(e.allowed_m)} is fine)`
    case 'brake-over':
      return `slowed to ${speed(e.slowest_mps)} where ${speed(e.referenceSlowest_mps)} holds`
    case 'turn-in-early':
      return `turned in ${metres(e.later_m)} early (up to ${metres(e.allowed_m)} is fine)`
    case 'apex-missed':
      return `passed the apex ${fine(e.farther_m)} farther out than planned (up to ${fine(e.allowed_m)} is fine)`
    case 'exit-wide':
      return (e.margin_m ?? 0) < 0
        ? `ran ${fine(e.margin_m)} over the outer edge at the exit`
        : `came within ${fine(e.margin_m)} of the outer edge at the exit`
    case 'overdriving':
      return `took it at ${speed(e.slowest_mps)} where ${speed(e.referenceSlowest_mps)} is the pace`
  }
}
