import type { Language } from '../units/language.ts'
import { carLengths } from '../vehicle/car-length.ts'
import type { PhraseBook } from './phrases.ts'

type Side = 'left' | 'right'

/** Words for sides, distances and numbers within a call. */
type PlaceWords = {
  /** The way to a side, and being there; for a seat: the side of whoever speaks, and of whoever drives. */
  to: Record<Side | 'mine' | 'yours', string>
  on: Record<Side | 'mine' | 'yours', string>
  at: (reference: string) => string
  from: (distance: string, past: boolean, reference: string) => string
  metres: (metres: number) => string
  lengths: (lengths: 'half' | 'one' | number) => string
  numbers: readonly string[]
}

const words: Record<Language, PlaceWords> = {
  en: {
    to: { left: 'to the left', right: 'to the right', mine: 'to my side', yours: 'to your side' },
    on: { left: 'on the left', right: 'on the right', mine: 'on my side', yours: 'on your side' },
    at: (reference) => `at the ${reference}`,
    from: (distance, past, reference) => `${distance} ${past ? 'after' : 'before'} the ${reference}`,
    metres: (metres) => `${metres} metres`,
    lengths: (n) => (n === 'half' ? 'half a length' : n === 'one' ? 'one length' : `${n} lengths`),
    numbers: ['one', 'two', 'three', 'four', 'five', 'six', 'seven'],
  },
  de: {
    to: { left: 'nach links', right: 'nach rechts', mine: 'auf meine Seite', yours: 'auf deine Seite' },
    on: { left: 'links', right: 'rechts', mine: 'auf meiner Seite', yours: 'auf deiner Seite' },
    at: (reference) => `bei ${reference}`,
    from: (distance, past, reference) => `${distance} ${past ? 'nach' : 'vor'} ${reference}`,
    metres: (metres) => `${metres} Meter`,
    lengths: (n) => (n === 'half' ? 'eine halbe Länge' : n === 'one' ? 'eine Länge' : `${n} Längen`),
    numbers: ['einen', 'zwei', 'drei', 'vier', 'fünf', 'sechs', 'sieben'],
  },
}

/** A side as it is seen from the instructor’s seat, where the book calls sides from there. */
const seen = ({ seat }: PhraseBook, side: Side): Side | 'mine' | 'yours' => (seat === undefined ? side : seat === side ? 'mine' : 'yours')

/** The way to a side: “to the left”, “to my side”. */
export const wayTo = (book: PhraseBook, side: Side): string => words[book.language].to[seen(book, side)]
/** A place on a side: “on the left”, “on my side”. */
export const placeOn = (book: PhraseBook, side: Side): string => words[book.language].on[seen(book, side)]
/** The side to turn to, as a book calls it. */
export const turnTo = (book: PhraseBook, side: Side): string => (book.seat === undefined ? book.words[side] : wayTo(book, side))

/** Nearer than this a mark is at its landmark (m); farther off the distance is told, in steps of this many metres. */
const AT_M = 4
const STEP_M = 5

/** Where a mark lies by a landmark: at it, or so many metres (or car lengths) before or after it. */
export const placeBy = (book: PhraseBook, reference: string, past_m: number): string => {
  const of = words[book.language]
  if (Math.abs(past_m) < AT_M) return of.at(reference)
  const far_m = Math.abs(past_m)
  const distance = book.lengths ? of.lengths(carLengths(far_m)) : of.metres(Math.max(STEP_M, STEP_M * Math.round(far_m / STEP_M)))
  return of.from(distance, past_m > 0, reference)
}

/** A number of gears in a word. */
export const numberWord = (book: PhraseBook, n: number): string => words[book.language].numbers[n - 1] ?? String(n)
