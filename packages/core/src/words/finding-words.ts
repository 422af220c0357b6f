import type { Advice, Praise } from '../findings/advice.ts'
import type { Evidence } from '../findings/judged.ts'
import { type MistakeCode, mistakes, type SuggestedCode } from '../mistakes/mistakes.ts'
import { type Measures, measuresFor, type UnitSystem } from '../units/format.ts'
import type { Language } from '../units/language.ts'
import { type AdviceWords, englishAdvice } from './advice-words.ts'
import { type EvidenceWords, englishEvidence } from './evidence-words.ts'
import { germanAdvice, germanEvidence, germanHeld, germanMistakes } from './german-words.ts'
import { englishHeld, type HeldWords } from './held-words.ts'

/** Everything that findings say to one reader. */
export type FindingWords = {
  mistakes: Readonly<Record<MistakeCode, { name: string; correction: string }>>
  advice: AdviceWords
  evidence: EvidenceWords
  held: (praise: Praise) => string
  measures: Measures
}

const heldIn =
  (words: HeldWords, names: FindingWords['mistakes']) =>
  (praise: Praise): string => {
    switch (praise.kind) {
      case 'gone':
        return words.gone(names[praise.code].name, praise.lap)
      case 'brake':
        return words.brake(praise.within_m, praise.laps)
      case 'turn-in':
        return words.turnIn(praise.within_m, praise.laps)
      case 'within':
        return words.within(praise.laps)
    }
  }

const made = new Map<string, FindingWords>()

/** The words of findings in a language, with measures in the reader's units. */
export const findingWords = (language: Language = 'en', units: UnitSystem = 'metric'): FindingWords => {
  const key = `${language} ${units}`
  const known = made.get(key)
  if (known) return known
  const measures = measuresFor(units, language === 'de')
  const words: FindingWords =
    language === 'de'
      ? {
          mistakes: germanMistakes,
          advice: germanAdvice(measures),
          evidence: germanEvidence(measures),
          held: heldIn(germanHeld(measures), germanMistakes),
          measures,
        }
      : {
          mistakes,
          advice: englishAdvice(measures),
          evidence: englishEvidence(measures),
          held: heldIn(englishHeld(measures), mistakes),
          measures,
        }
  made.set(key, words)
  return words
}

/** The act in plain words with its size, the reference's doing and what is allowed, as instructors read it; never about the person. */
export const evidenceInWords = (code: SuggestedCode, evidence: Evidence): string => findingWords().evidence[code](evidence)

/** One advice in words: what to say with its size, how right feels, and something for the next run. */
export const sayAdvice = ({ code, goal }: Pick<Advice, 'code' | 'goal'>, words: FindingWords = findingWords()) => {
  const { say, cue, next } = words.advice[code]
  return { say: say(goal), cue, next }
}
