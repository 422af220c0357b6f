import Papa from 'papaparse'
import type { Intensity } from '../day/intensity.ts'
import { intensities } from '../day/intensity.ts'
import { type Level, levels } from '../day/level.ts'
import { CoreError } from '../errors/errors.ts'
import type { UnitSystem } from '../units/format.ts'
import { type Language, languages } from '../units/language.ts'

/** What a list of people can tell of each; a name may stand in one column or in two. */
export const peopleFields = ['name', 'firstName', 'lastName', 'level', 'talk', 'language', 'units', 'car', 'experience', 'goals'] as const
export type PeopleField = (typeof peopleFields)[number]

/** A list as it was pasted: its cells, its columns by name (numbered where there is no header), and the field guessed for each column. */
export type PeopleList = { columns: string[]; rows: string[][]; guess: (PeopleField | null)[] }

/** Words in headers that name a field, in the languages of the product; the first that fits counts. */
const headerWords: readonly (readonly [RegExp, PeopleField])[] = [
  [/^(first|given|vor)/, 'firstName'],
  [/^(last|family|sur|nach|familien)/, 'lastName'],
  [/^(name|student|driver|participant|teilnehmer|fahrer|schüler|full ?name)/, 'name'],
  [/^(level|group|stufe|gruppe|können|class)/, 'level'],
  [/^(talk|coaching|ansage)/, 'talk'],
  [/^(lang|sprache)/, 'language'],
  [/^(unit|einheit)/, 'units'],
  [/^(car|vehicle|auto|fahrzeug|wagen)/, 'car'],
  [/^(exp|erfahrung)/, 'experience'],
  [/^(goal|wish|want|ziel|wunsch)/, 'goals'],
]

const fieldOf = (header: string): PeopleField | null => headerWords.find(([words]) => words.test(header.trim().toLowerCase()))?.[1] ?? null

/**
 * A list of people out of a spreadsheet or a CSV file: one person a line; columns may have a header. A line without any separator is a name.
 * @throws CoreError 'file-empty'
 */
export const readPeopleList = (text: string): PeopleList => {
  const body = text.replace(/^\ufeff/, '').trim()
  if (body === '') throw new CoreError('file-empty', 'list', { what: 'list' })
  const { data } = Papa.parse<string[]>(body, { delimitersToGuess: ['\t', ';', ',', '|'], skipEmptyLines: 'greedy' })
  const cells = data.map((row) => row.map((cell) => cell.trim()))
  const [first = []] = cells
  const named = first.map(fieldOf)
  const hasHeader = named.some((field) => field !== null) && first.every((cell) => !/\d{3}/.test(cell))
  const width = Math.max(...cells.map((row) => row.length))
  const rows = hasHeader ? cells.slice(1) : cells
  const columns = Array.from({ length: width }, (_, k) => (hasHeader ? first[k] || `Column ${k + 1}` : `Column ${k + 1}`))
  const guess = Array.from({ length: width }, (_, k) => (hasHeader ? (named[k] ?? null) : k === 0 ? ('name' as const) : null))
  return { columns, rows, guess: guess.map((field, k) => (guess.indexOf(field) === k ? field : null)) }
}

const levelWords: readonly (readonly [RegExp, Level])[] = [
  [/^(1|first|erst|begin|anf|nov|new|neu|a$)/, 'first-day'],
  [/^(2|build|inter|aufbau|fortg|mitt|b$)/, 'building'],
  [/^(3|steady|adv|sicher|exp|könner|profi|c$)/, 'steady'],
]
const talkWords: readonly (readonly [RegExp, Intensity])[] = [
  [/^(driv|all|viel|much)/, 'driven'],
  [/^(guid|normal|mittel)/, 'guided'],
  [/^(quiet|wenig|ruhig|little|none)/, 'quiet'],
]
const languageWords: readonly (readonly [RegExp, Language])[] = [
  [/^(en|engl)/, 'en'],
  [/^(de|ger|deutsch)/, 'de'],
]
const unitWords: readonly (readonly [RegExp, UnitSystem])[] = [
  [/^(metric|km|metrisch)/, 'metric'],
  [/^(imperial|mi|mph|meilen)/, 'imperial'],
]

/** The value that a cell names: itself where it is one, else by its first letters; undefined where it names none. */
const meant = <V extends string>(cell: string, values: readonly V[], words: readonly (readonly [RegExp, V])[]): V | undefined => {
  const text = cell.trim().toLowerCase()
  if (text === '') return undefined
  return values.find((value) => value === text) ?? words.find(([pattern]) => pattern.test(text))?.[1]
}

/** A person out of a list. `unknown`: cells that were not understood, as field and text. */
export type ListedPerson = {
  name: string
  level: Level | undefined
  talk: Intensity | undefined
  language: Language | undefined
  units: UnitSystem | undefined
  car: string
  experience: string
  goals: string
  unknown: readonly { field: PeopleField; text: string }[]
}

/** Longest texts that a student's profile takes. */
const LONGEST = { name: 60, car: 80, text: 300 } as const

/** People of a list by what each column means; rows without a name are left out. */
export const peopleOf = ({ rows }: Pick<PeopleList, 'rows'>, mapping: readonly (PeopleField | null)[]): ListedPerson[] =>
  rows.flatMap((row) => {
    const cell = (field: PeopleField): string => row[mapping.indexOf(field)]?.trim() ?? ''
    const whole = cell('name') || `${cell('firstName')} ${cell('lastName')}`.trim()
    const name = whole.replace(/\s+/g, ' ').slice(0, LONGEST.name)
    if (name.length < 2) return []
    const unknown: { field: PeopleField; text: string }[] = []
    const read = <V extends string>(field: PeopleField, values: readonly V[], words: readonly (readonly [RegExp, V])[]): V | undefined => {
      const value = meant(cell(field), values, words)
      if (value === undefined && cell(field) !== '') unknown.push({ field, text: cell(field) })
      return value
    }
    return [
      {
        name,
        level: read('level', levels, levelWords),
        talk: read('talk', intensities, talkWords),
        language: read('language', languages, languageWords),
        units: read('units', ['metric', 'imperial'] as const, unitWords),
        car: cell('car').slice(0, LONGEST.car),
        experience: cell('experience').slice(0, LONGEST.text),
        goals: cell('goals').slice(0, LONGEST.text),
        unknown,
      },
    ]
  })

/** A name without capitals, accents, order of its parts and blanks: two people with the same one may be one person. */
export const nameKey = (name: string): string =>
  name
    .normalize('NFD')
    .replace(/[\u0300-\u036f]/g, '')
    .toLowerCase()
    .split(/[^\p{L}\p{N}]+/u)
    .filter(Boolean)
    .sort()
    .join(' ')
