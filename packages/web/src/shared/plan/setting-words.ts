import { brakingSchools, type PlanChoice, paces, type Surface } from '@ochote/core'
import { brakingWords, lineWords } from './line-words.ts'

/** Surfaces, as they are chosen. */
export const surfaceWords: Record<Surface, string> = { dry: 'Dry', damp: 'Damp', wet: 'Wet', standing: 'Standing water' }

/** Paces with a name, and the limit; each by its share of the grip. */
export const paceOptions: readonly { value: string; label: string }[] = [
  ...Object.entries(paces).map(([name, value]) => ({
    value: String(value),
    label: `${name[0].toUpperCase()}${name.slice(1)} ${Math.round(100 * value)}%`,
  })),
  { value: '0.92', label: 'Limit 92%' },
]

const paceWords = (pace: number): string => paceOptions.find((o) => o.value === String(pace))?.label ?? `${Math.round(100 * pace)}%`

/** Names of circuits and vehicles by their ids. */
export type Names = { circuit: (id: string) => string; vehicle: (id: string) => string }

/** One setting as it reads in a sentence: “wet”, “Guided 75%”. */
export const settingInWords = (key: keyof PlanChoice, settings: PlanChoice, names: Names): string => {
  switch (key) {
    case 'circuitId':
      return names.circuit(settings.circuitId)
    case 'vehicleId':
      return names.vehicle(settings.vehicleId)
    case 'surface':
      return surfaceWords[settings.surface].toLowerCase()
    case 'pace':
      return paceWords(settings.pace).toLowerCase()
    case 'method':
      return `${lineWords[settings.method].name.toLowerCase()} line`
    case 'school':
      return `${brakingWords[settings.school].name.toLowerCase()}`
    case 'schemeId':
      return 'another cone scheme'
    case 'lowestGear':
      return settings.lowestGear === undefined ? 'the usual lowest gear' : `lowest gear ${settings.lowestGear}`
    case 'perMetre_s':
      return settings.perMetre_s === undefined ? 'the usual price of a metre' : `${settings.perMetre_s} s a metre`
  }
}

/** Styles of braking with their words, as they are chosen. */
export const schoolOptions: readonly { value: string; label: string; explained: string }[] = brakingSchools.map((s) => ({
  value: s,
  label: brakingWords[s].name,
  explained: brakingWords[s].explained,
}))
