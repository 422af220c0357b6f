import * as core from '@ochote/core'
import { say, staffLanguage } from '../../language/say.ts'
import { metres, speedInWords, staffUnits } from '../../language/staff-units.ts'
import { wordsIn } from './words.ts'

/** The core's words in the language and units of the staff's pages. */
const words = core.readerWords(staffLanguage, staffUnits)
/** The words of the pages that students read too. */
export const staffWords = wordsIn(staffLanguage)

export const mistakeName = (code: core.MistakeCode): string => core.mistakeName(code, staffLanguage)
export const correctionFor = (code: core.MistakeCode): string => core.correctionFor(code, staffLanguage)
export const levelName = (level: core.Level): string => core.levelName(level, staffLanguage)
export const skillName = (skill: core.Skill): string => core.skillName(skill, staffLanguage)
export const evidenceText = (found: core.Evidenced, form: 'full' | 'short' = 'full'): string => core.evidenceText(found, form, words)
export const adviceText = (advice: Parameters<typeof core.adviceText>[0]): ReturnType<typeof core.adviceText> =>
  core.adviceText(advice, words)
export const praiseText = (praise: core.Praise): string => core.praiseText(praise, words)
export const referenceText = (reference: core.ReferenceTold, why: core.ReferenceReason): string => core.referenceText(reference, why, words)
export const differsText = (better: core.ReferenceTold): string => core.differsText(better, words)

/** A share as it is said: how many of how many. */
export const countInWords = ({ hits, of }: core.Share): string => (of === 0 ? say`not tried yet` : say`${hits} of ${of}`)
/** A share with its interval in percent. */
export const shareInWords = (share: core.Share): string =>
  share.of === 0 ? countInWords(share) : say`${countInWords(share)} (${Math.round(100 * share.low)} to ${Math.round(100 * share.high)}%)`

/** 100 km/h, up to which vehicles are compared (m/s). */
const HUNDRED = 100 / 3.6

/** What a vehicle can do by the model, in one sentence. */
export const vehicleInWords = ({ zeroTo100_s, topSpeed_mps, stopFrom100_m, corner_g, lean_deg }: core.VehicleSummary): string =>
  [
    zeroTo100_s === null ? say`never reaches ${speedInWords(HUNDRED)}` : say`0–${speedInWords(HUNDRED)} in ${zeroTo100_s.toFixed(1)} s`,
    say`${speedInWords(topSpeed_mps)} at most`,
    say`${corner_g.toFixed(2)} g in corners`,
    ...(lean_deg === null ? [] : [say`${Math.round(lean_deg)}° of lean`]),
    ...(zeroTo100_s === null ? [] : [say`stops from ${speedInWords(HUNDRED)} in ${metres(stopFrom100_m)}`]),
  ].join(', ')
