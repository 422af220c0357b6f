import { brakingSchools, type Gearbox, type PlanChoice, paces, type Surface } from '@ochote/core'
import { inside, say } from '../../language/say.ts'
import { staffWords } from '../language/staff-words.ts'
import { brakingWords, lineWords } from './line-words.ts'

/** Surfaces, as they are chosen. */
export const surfaceWords: Record<Surface, string> = { dry: say`Dry`, damp: say`Damp`, wet: say`Wet`, standing: say`Standing water` }

/** A surface as it stands inside a sentence. */
export const surfaceInside = (surface: Surface): string => inside(surfaceWords[surface])

/** Paces with a name, and the limit; each by its share of the grip. */
export const paceOptions: readonly { value: string; label: string }[] = [
  ...Object.entries(paces).map(([name, value]) => ({
    value: String(value),
    label: `${staffWords.paceNames[name as keyof typeof paces]} ${Math.round(100 * value)}%`,
  })),
  { value: '0.92', label: say`Limit 92%` },
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
      return surfaceInside(settings.surface)
    case 'pace':
      return inside(paceWords(settings.pace))
    case 'method':
      return say`${inside(lineWords[settings.method].name)} line`
    case 'school':
      return `${inside(brakingWords[settings.school].name)}`
    case 'schemeId':
      return say`another cone scheme`
    case 'lowestGear':
      return settings.lowestGear === undefined ? say`the usual lowest gear` : say`lowest gear ${settings.lowestGear}`
    case 'perMetre_s':
      return settings.perMetre_s === undefined ? say`the usual price of a metre` : say`${settings.perMetre_s} s a metre`
  }
}

/** Styles of braking with their words, as they are chosen. */
export const schoolOptions: readonly { value: string; label: string; explained: string }[] = brakingSchools.map((s) => ({
  value: s,
  label: brakingWords[s].name,
  explained: brakingWords[s].explained,
}))

/** How gears are changed, in words. */
export const gearboxWords: Record<Gearbox, string> = {
  manual: say`manual`,
  paddles: say`paddles`,
  automatic: say`automatic`,
  'automatic-first': say`automatic first, then by hand`,
  none: say`no gears`,
}
