import { type Language, languages } from '@ochote/core'
import { english } from './english.ts'
import { german } from './german.ts'
import type { StudentWords } from './student-words.ts'

const all: Record<Language, StudentWords> = { en: english, de: german }

/** The words of a language; English where none was chosen. */
export const wordsIn = (language: Language | null | undefined): StudentWords => all[language ?? 'en']

/** The browser's language where we have words for it: for pages that do not know their reader yet. */
export const browserLanguage = (): Language => languages.find((l) => navigator.language.startsWith(l)) ?? 'en'
