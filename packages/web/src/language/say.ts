import { type Language, languages } from '@ochote/core'
import dayjs from 'dayjs'

const KEPT = 'ochote.language'

const kept = (): Language => languages.find((l) => l === globalThis.localStorage?.getItem(KEPT)) ?? 'en'

/** Language of the staff's pages on this device, as the school has chosen it; read once, so that all of a page agrees. */
export const staffLanguage: Language = kept()

/** The school's choice for this device; true where pages have to be read anew for it. */
export const keepStaffLanguage = (language: Language): boolean => {
  if (kept() === language) return false
  localStorage.setItem(KEPT, language)
  return true
}

/** Texts of the pages in the staff's language, by their English; null: they are English. */
let texts: Readonly<Record<string, string>> | null = null

/** The server's texts whose parts differ, e.g. `This {} does not exist.`, with their German. */
let sentences: readonly { english: RegExp; german: string }[] = []

const literal = (text: string): string => text.replace(/[.*+?^${}()|[\]\\]/g, '\\$&')

/** Reads the texts of the staff's language. Pages are read after it, for many of their words are made as they are read. */
export const readStaffTexts = async (): Promise<void> => {
  if (staffLanguage === 'en') return
  const [table, server] = await Promise.all([import('./staff-german.json'), import('./server-german.json'), import('dayjs/locale/de')])
  texts = { ...server.default, ...table.default }
  sentences = Object.entries(server.default)
    .filter(([english]) => english.includes('{}'))
    .map(([english, german]) => ({ english: new RegExp(`^${english.split('{}').map(literal).join('(.+)')}$`), german }))
  dayjs.locale('de')
}

/** A number that stands in a German sentence has a decimal comma. */
const inGerman = (value: unknown): string => String(value).replace(/^([-−+]?\d+)\.(\d+)$/, '$1,$2')

/**
 * Fills the places of a text: `{}` takes the next value, `{2}` the one of that number, counted from 0.
 * @param text e.g. `'{} of {}'`
 */
export const filled = (text: string, values: readonly string[]): string => {
  let next = 0
  return text.replace(/\{(\d*)\}/g, (_, at: string) => values[at === '' ? next++ : Number(at)] ?? '')
}

/** A text of the staff's pages, said in their language; one that has no words there stays English. */
export const say = (english: TemplateStringsArray, ...values: readonly unknown[]): string => {
  const german = texts?.[english.join('{}')]
  return german === undefined ? String.raw({ raw: english }, ...values) : filled(german, values.map(inGerman))
}

/** A text that came from elsewhere as a whole, e.g. from the server, in the staff's language where it has words for it. */
export const sayWhole = (english: string): string => {
  const whole = texts?.[english]
  if (whole !== undefined) return whole
  for (const { english: form, german } of sentences) {
    const parts = form.exec(english)?.slice(1)
    if (parts) return filled(german, parts.map(sayWhole))
  }
  return english
}

/** A name as it stands inside a sentence: English begins it small, German leaves nouns as they are. */
export const inside = (name: string): string => (staffLanguage === 'en' ? name.toLowerCase() : name)
