import type { Language } from '@ochote/core'
import { english } from './english.ts'
import { german } from './german.ts'
import type { StudentWords } from './student-words.ts'

const all: Record<Language, StudentWords> = { en: english, de: german }

/** The words of a language; English where none was chosen. */
export const wordsIn = (language: Language | null | undefined): StudentWords => all[language ?? 'en']
