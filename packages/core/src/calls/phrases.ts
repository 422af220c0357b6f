import type { MarkKind } from '../marks/marks.ts'

/** One call in three lengths; the long form comes first. */
export type Phrase = readonly [string, string, string]

/** Phrases by kind of mark. A kind without a phrase is not called. */
export type PhraseBook = { id: string; name: string; language: string; phrases: Partial<Record<MarkKind, Phrase>> }

/** The phrase book that ships: calm, short words. */
export const plainBook: PhraseBook = {
  id: 'plain',
  name: 'Plain English',
  language: 'en',
  phrases: {
    lift: ['ease off the throttle here', 'ease off', 'lift'],
    brake: ['on the brake, firm and straight', 'brake firmly', 'brake'],
    'turn-in': ['off the brake and turn', 'and turn', 'turn'],
    throttle: ['squeeze the throttle on', 'squeeze it on', 'squeeze'],
    exit: ['open the wheel, use the road', 'let it run', 'open'],
  },
}
