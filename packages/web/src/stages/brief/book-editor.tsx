import {
  Box,
  Button,
  Stack,
  TableBody,
  TableCell,
  TableHead,
  TableRow,
  TextField,
  ToggleButton,
  ToggleButtonGroup,
  Typography,
} from '@mui/material'
import {
  type BrakingSchool,
  bookFor,
  brakingSchools,
  type CallKind,
  callKinds,
  checkPhraseBook,
  languages,
  type Phrase,
  type PhraseBook,
  type PhraseCase,
  type PhraseProblem,
  type Phrases,
  phraseBooks,
  phraseCases,
  placeholders,
} from '@ochote/core'
import { useState } from 'react'
import { v7 as uuid } from 'uuid'
import { useSchoolSettings } from '../../data/school/use-school-settings.ts'
import { inside, say } from '../../language/say.ts'
import { callNames } from '../../shared/calls/call-words.ts'
import { wordsIn } from '../../shared/language/words.ts'
import { PickField } from '../../shared/pick-field.tsx'
import { ProblemNote } from '../../shared/problem-note.tsx'
import { RowTable } from '../../shared/row-table.tsx'

const problemWords: Record<PhraseProblem['problem'], (found: string) => string> = {
  empty: () => say`Write a phrase, or remove the call.`,
  'unknown-placeholder': (found) => say`{${found}} is not known: use ${placeholders.map((p) => `{${p}}`).join(', ')}.`,
  'not-one-word': () => say`The last form is one word.`,
  'placeholder-in-word': () => say`No placeholder in the one word.`,
  'longer-than-longer-form': () => say`Longer than the form before it.`,
}

/** For what a book has words of its own: a braking style, or a case. */
type Only = BrakingSchool | PhraseCase

const caseNames: Record<PhraseCase, string> = {
  sighting: say`sighting lap`,
  'warm-up': say`warm-up lap`,
  wet: say`in the wet`,
  rider: say`motorcycle`,
  kart: say`kart`,
  'gear-steps': say`gears by number`,
}

const isCase = (only: Only): only is PhraseCase => (phraseCases as readonly string[]).includes(only)

const ownPhrases = (book: PhraseBook, only: Only): Phrases | undefined => (isCase(only) ? book.cases?.[only] : book.schools?.[only])

const forms = [say`Long`, say`Short`, say`One word`] as const
const empty: Phrase = ['', '', '']

/** The school's own books with how to add, change and remove them. */
const useOwnBooks = () => {
  const { schoolSettings, books, save, error } = useSchoolSettings()
  const own = schoolSettings.phraseBooks as PhraseBook[]
  const saveAll = (next: readonly PhraseBook[]): void => save({ phraseBooks: next.map(asStored) })
  return {
    books,
    error,
    add: (book: PhraseBook): void => saveAll([...own, book]),
    change: (book: PhraseBook): void => saveAll(own.map((b) => (b.id === book.id ? book : b))),
    remove: (id: string): void => saveAll(own.filter((b) => b.id !== id)),
  }
}

/** The phrases of a book in three lengths; a school's own books are edited here. */
export const BookEditor = ({ bookId, onBook }: { bookId: string; onBook: (bookId: string) => void }) => {
  const { books, error, add, change, remove } = useOwnBooks()
  const book = bookFor(books, bookId, null)
  const ready = phraseBooks.some((b) => b.id === book.id)
  const [style, setStyle] = useState<Only | null>(null)
  const copy = (): void => {
    const id = uuid()
    add({ ...book, id, name: say`${book.name.split(':')[0]}, our version` })
    onBook(id)
  }
  return (
    <Stack spacing={3}>
      <ProblemNote error={error} />
      <Stack direction="row" useFlexGap spacing={3} sx={{ alignItems: 'flex-end', flexWrap: 'wrap' }}>
        <Button variant="outlined" size="small" onClick={copy}>
          {say`Copy and edit`}
        </Button>
        {!ready && (
          <NameAndLanguage
            book={book}
            onChange={change}
            onRemove={() => {
              remove(book.id)
              onBook(phraseBooks[0].id)
            }}
          />
        )}
        <Typography variant="text" color="text.secondary">
          {ready
            ? say`A ready-made book stays as it is.`
            : say`${placeholders.map((p) => `{${p}}`).join(', ')} stand for what is right at each place.`}
        </Typography>
      </Stack>
      <ToggleButtonGroup
        size="small"
        exclusive
        aria-label={say`For which style or case`}
        value={style ?? 'all'}
        onChange={(_, next: Only | 'all' | null) => next && setStyle(next === 'all' ? null : next)}
      >
        <ToggleButton value="all" sx={{ py: 0 }}>
          {say`all styles`}
        </ToggleButton>
        {brakingSchools.map((s) => (
          <ToggleButton key={s} value={s} sx={{ py: 0 }}>
            {s}
          </ToggleButton>
        ))}
        {phraseCases.map((one) => (
          <ToggleButton key={one} value={one} sx={{ py: 0 }}>
            {caseNames[one]}
          </ToggleButton>
        ))}
      </ToggleButtonGroup>
      <PhraseTable book={book} style={style} onChange={ready ? null : change} />
    </Stack>
  )
}

type BookProps = { book: PhraseBook; onChange: (book: PhraseBook) => void; onRemove: () => void }

const NameAndLanguage = ({ book, onChange, onRemove }: BookProps) => (
  <>
    <TextField
      key={book.id}
      label={say`Name of this book`}
      defaultValue={book.name}
      onBlur={(e) => e.target.value.trim() && onChange({ ...book, name: e.target.value.trim().slice(0, 80) })}
      sx={{ width: 260 }}
    />
    <PickField
      label={say`Language`}
      value={book.language}
      options={languages.map((l) => [l, wordsIn(l).language] as const)}
      onPick={(language) => onChange({ ...book, language })}
      width={120}
    />
    <PickField
      label={say`Sides are called`}
      value={book.seat ?? 'road'}
      options={[
        ['road', say`left and right`] as const,
        ['left', say`my side: I sit left`] as const,
        ['right', say`my side: I sit right`] as const,
      ]}
      onPick={(seat) => onChange({ ...book, seat: seat === 'road' ? undefined : seat })}
      width={180}
    />
    <PickField
      label={say`Distances`}
      value={book.lengths ? 'lengths' : 'metres'}
      options={[['metres', say`in metres`] as const, ['lengths', say`in car lengths`] as const]}
      onPick={(kind) => onChange({ ...book, lengths: kind === 'lengths' })}
      width={140}
    />
    <Button size="small" variant="text" onClick={onRemove}>
      {say`Remove this book`}
    </Button>
  </>
)

/** A book with one form of one phrase changed, for all (null) or for one braking style or case. */
const withPhrase = (book: PhraseBook, only: Only | null, kind: CallKind, form: number, text: string): PhraseBook => {
  const before = (only && ownPhrases(book, only)?.[kind]) ?? book.phrases[kind] ?? empty
  const next = [...before] as [string, string, string]
  next[form] = text
  if (!only) return { ...book, phrases: { ...book.phrases, [kind]: next } }
  const own = { ...ownPhrases(book, only), [kind]: next }
  return isCase(only) ? { ...book, cases: { ...book.cases, [only]: own } } : { ...book, schools: { ...book.schools, [only]: own } }
}

type TableProps = {
  book: PhraseBook
  /** Braking style or case whose phrases are shown; null for those of all. */
  style: Only | null
  /** Null for a ready-made book, which cannot be changed. */
  onChange: ((book: PhraseBook) => void) | null
}

const PhraseTable = ({ book, style, onChange }: TableProps) => {
  const problems = checkPhraseBook(book).filter((p) => p.only === style)
  const phrases = style ? ownPhrases(book, style) : book.phrases
  return (
    <RowTable aria-label={say`Phrases`} sx={{ '& .MuiTableCell-root': { py: 1, verticalAlign: 'top' } }}>
      <TableHead>
        <TableRow>
          <TableCell>{say`For`}</TableCell>
          {forms.map((f) => (
            <TableCell key={f}>{f}</TableCell>
          ))}
        </TableRow>
      </TableHead>
      <TableBody>
        {callKinds.map((kind) => (
          <TableRow key={kind}>
            <TableCell sx={{ fontWeight: 600 }}>{callNames[kind]}</TableCell>
            {forms.map((name, form) => (
              <TableCell key={name}>
                <PhraseField
                  label={`${callNames[kind]}, ${inside(name)}`}
                  maxLength={MAX_LENGTHS[form]}
                  text={phrases?.[kind]?.[form] ?? ''}
                  usual={style ? (book.phrases[kind]?.[form] ?? '') : ''}
                  problem={problems.find((p) => p.kind === kind && p.form === form)}
                  onChange={onChange && ((text) => onChange(withPhrase(book, style, kind, form, text)))}
                />
              </TableCell>
            ))}
          </TableRow>
        ))}
      </TableBody>
    </RowTable>
  )
}

/** Maximum length of a phrase by form (characters). */
const MAX_LENGTHS = [120, 80, 40] as const

type FieldProps = {
  label: string
  maxLength: number
  text: string
  /** Phrase that is used where the style or case has none of its own. */
  usual: string
  problem: { problem: PhraseProblem['problem']; found: string } | undefined
  onChange: ((text: string) => void) | null
}

const PhraseField = ({ label, maxLength, text, usual, problem, onChange }: FieldProps) => {
  if (!onChange) return text || (usual ? <Box sx={{ color: 'text.secondary' }}>{usual}</Box> : '–')
  return (
    <TextField
      key={text}
      fullWidth
      defaultValue={text}
      placeholder={usual}
      error={problem !== undefined}
      helperText={problem ? problemWords[problem.problem](problem.found) : undefined}
      slotProps={{ htmlInput: { 'aria-label': label, maxLength } }}
      onBlur={(e) => e.target.value !== text && onChange(e.target.value)}
    />
  )
}

/** A book as it is stored in the school settings. */
const asStored = ({ words, phrases, schools, cases, ...book }: PhraseBook) => ({
  ...book,
  words: { ...words, gears: [...words.gears] },
  phrases: writable(phrases),
  ...(schools ? { schools: writableOf(schools) } : {}),
  ...(cases ? { cases: writableOf(cases) } : {}),
})

const writableOf = (some: Partial<Record<string, Phrases>>) =>
  Object.fromEntries(Object.entries(some).map(([only, own]) => [only, writable(own ?? {})]))

const writable = (phrases: Phrases) =>
  Object.fromEntries(Object.entries(phrases).map(([kind, p]) => [kind, [...p] as [string, string, string]]))
