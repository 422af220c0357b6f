import type { Measures } from '../../units/format.ts'
import type { ReaderWords } from '../reader-words.ts'
import { advice } from './advice.ts'
import { errors, place, portal } from './errors.ts'
import { evidence, praise } from './evidence.ts'
import { handOver } from './hand-over.ts'
import { mistakes } from './mistakes.ts'
import { reference } from './reference.ts'

/** Everything in English, in a reader's units. */
export const english = (measures: Measures): Omit<ReaderWords, 'numbers'> => ({
  mistakes,
  reference,
  advice: advice(measures),
  evidence: evidence(measures),
  praise: praise(measures),
  errors,
  portal,
  place,
  handOver,
  levels: { 'first-day': 'first day', building: 'building', steady: 'steady' },
  skills: {
    eyes: 'eyes',
    'braking-point': 'braking point',
    'turn-in': 'turn-in',
    apex: 'apex',
    exit: 'exit',
    'brake-release': 'brake release',
    throttle: 'throttle',
    steering: 'steering',
    'carrying-speed': 'carrying speed',
    safety: 'safety',
  },
})
