import type { CarCondition } from '@ochote/contract'
import type { Verdict } from '@ochote/core'
import { inside, say } from '../language/say.ts'

/** What is looked at of a car after its run. */
export const conditionParts = ['brakes', 'tyres', 'other'] as const
export type ConditionPart = (typeof conditionParts)[number]
export type Condition = Pick<CarCondition, ConditionPart>

export const partWords: Record<ConditionPart, string> = { brakes: say`Brakes`, tyres: say`Tyres`, other: say`Anything else` }
export const verdictWords: Record<Verdict, string> = { good: say`good`, watch: say`keep an eye on`, stop: say`do not drive` }

/** Last known condition of a car, in words; null where there is nothing to say. */
export const conditionInWords = (condition: Condition): string | null => {
  const faults = conditionParts
    .filter((part) => condition[part] !== 'good')
    .map((part) => `${inside(partWords[part])}: ${verdictWords[condition[part]]}`)
  return faults.length === 0 ? null : faults.join('; ')
}

/** True for a car that somebody said nobody should drive. */
export const isGrounded = (condition: Condition): boolean => conditionParts.some((part) => condition[part] === 'stop')
