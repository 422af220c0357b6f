import type { NewDayPlan, SchoolSettings, StoredVenue } from '@ochote/contract'
import type { PlanChoice } from '@ochote/core'
import { say, sayWhole } from '../../language/say.ts'

/** Rules that stand at the beginning of every day; a venue adds its own. */
const firstRules = [say`Helmets on and belts tight before the car rolls.`, say`The venue’s rules and its marshals stand above this plan.`]

/** A day as it begins: with the school's defaults, the venue's rules and flags, and nobody in it yet. */
export const newDay = ({
  date,
  settings,
  school,
  venue,
  circuitName,
  leadId,
}: {
  date: string
  settings: Pick<PlanChoice, 'circuitId' | 'vehicleId'>
  school: SchoolSettings
  venue: StoredVenue | undefined
  circuitName: string
  leadId: string | undefined
}): NewDayPlan => ({
  date,
  title: say`Track day`,
  venue: venue?.name ?? circuitName,
  weather: '',
  rules: [...firstRules, ...(venue?.rules ?? [])].slice(0, 20),
  flags: venue?.flags ?? [],
  settings: {
    circuitId: settings.circuitId,
    vehicleId: settings.vehicleId,
    surface: 'dry',
    pace: school.defaults.pace,
    school: school.defaults.school,
    method: 'smoothest',
    schemeId: school.defaults.schemeId,
  },
  studentIds: [],
  instructorIds: leadId ? [leadId] : [],
  cars: [],
  slots: [],
  checkOff: school.checkOff.map(sayWhole),
  ...(school.defaults.bookId ? { calls: { bookId: school.defaults.bookId } } : {}),
})
