import type { PhraseBook } from '../phrases.ts'
import { brisk } from './brisk.ts'
import { plain } from './plain.ts'
import { ruhig } from './ruhig.ts'

/** Phrase books that ship: two tones in English, one in German. */
export const phraseBooks: readonly PhraseBook[] = [plain, brisk, ruhig]
