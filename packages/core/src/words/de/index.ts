import type { Measures } from '../../units/format.ts'
import type { ReaderWords } from '../reader-words.ts'
import { advice } from './advice.ts'
import { errors, place, portal } from './errors.ts'
import { evidence, praise } from './evidence.ts'
import { handOver } from './hand-over.ts'
import { mistakes } from './mistakes.ts'
import { reference } from './reference.ts'

/** Everything in German, in a reader's units. */
export const german = (measures: Measures): Omit<ReaderWords, 'numbers'> => ({
  mistakes,
  reference,
  advice: advice(measures),
  evidence: evidence(measures),
  praise: praise(measures),
  errors,
  portal,
  place,
  handOver,
  levels: { 'first-day': 'erster Tag', building: 'Aufbau', steady: 'konstant' },
  skills: {
    eyes: 'Blick',
    'braking-point': 'Bremspunkt',
    'turn-in': 'Einlenken',
    apex: 'Scheitel',
    exit: 'Ausgang',
    'brake-release': 'Bremse lösen',
    throttle: 'Gas',
    steering: 'Lenken',
    'carrying-speed': 'Schwung mitnehmen',
    safety: 'Sicherheit',
  },
})
