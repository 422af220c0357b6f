import {
  Box,
  Button,
  Stack,
  Table,
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
  type PhraseProblem,
  type Phrases,
  phraseBooks,
} from '@ochote/core'
import { useState } from 'react'
import { v7 as uuid } from 'uuid'
import { useSchoolSettings } from '../../data/school/use-school-settings.ts'
import { wordsIn } from '../../shared/language/words.ts'
import { markNames } from '../../shared/marks/mark-words.ts'
import { PickField } from '../../shared/pick-field.tsx'
import { ProblemNote } from '../../shared/problem-note.tsx'

const problemWords: Record<PhraseProblem['problem'], (found: string) => string> = {
  empty: () => 'Write a phrase, or remove the call.',
  'unknown-placeholder': (found) => `{${found}} is not known: use {gear}, {side} or {reference}.`,
  'not-one-word': () => 'The last form is one word.',
  'placeholder-in-word': () => 'No placeholder in the one word.',
  'longer-than-longer-form': () => 'Longer than the form before it.',
}

const forms = ['Long', 'Short', 'One word'] as const
const empty: Phrase = ['', '', '']

/** The phrases of a book in three lengths; a school's own books are edited here. */
export const BookEditor = ({ bookId, onBook }: { bookId: string; onBook: (bookId: string) => void }) => {
  const { schoolSettings, books, save, error } = useSchoolSettings()
  const book = bookFor(books, bookId, null)
  const ready = phraseBooks.some((b) => b.id === book.id)
  const put = (next: PhraseBook): void =>
    save({ phraseBooks: (schoolSettings.phraseBooks as PhraseBook[]).map((b) => (b.id === next.id ? next : b)).map(asStored) })
  const [school, setSchool] = useState<BrakingSchool | null>(null)
  const problems = checkPhraseBook(book).filter((p) => p.school === school)
  const own = (kind: CallKind): Phrase | undefined => (school ? book.schools?.[school]?.[kind] : book.phrases[kind])
  const phrase = (kind: CallKind, form: number, text: string): void => {
    const now = [...(own(kind) ?? book.phrases[kind] ?? empty)] as [string, string, string]
    now[form] = text
    if (school) put({ ...book, schools: { ...book.schools, [school]: { ...book.schools?.[school], [kind]: now } } })
    else put({ ...book, phrases: { ...book.phrases, [kind]: now } })
  }
  return (
    <Stack spacing={1.5}>
      <ProblemNote error={error} />
      <Stack direction="row" spacing={1.5} sx={{ alignItems: 'flex-end' }}>
        <Button
          variant="outlined"
          size="small"
          onClick={() => {
            const id = uuid()
            save({
              phraseBooks: [
                ...(schoolSettings.phraseBooks as PhraseBook[]),
                { ...book, id, name: `${book.name.split(':')[0]}, our version` },
              ].map(asStored),
            })
            onBook(id)
          }}
        >
          Copy and edit
        </Button>
        {!ready && (
          <>
            <TextField
              key={book.id}
              label="Name of this book"
              defaultValue={book.name}
              onBlur={(e) => e.target.value.trim() && put({ ...book, name: e.target.value.trim().slice(0, 80) })}
              sx={{ width: 260 }}
            />
            <PickField
              label="Language"
              value={book.language}
              options={languages.map((l) => [l, wordsIn(l).language] as const)}
              onPick={(language) => put({ ...book, language })}
              width={120}
            />
            <Button
              size="small"
              variant="text"
              onClick={() => {
                save({ phraseBooks: (schoolSettings.phraseBooks as PhraseBook[]).filter((b) => b.id !== book.id).map(asStored) })
                onBook(phraseBooks[0].id)
              }}
            >
              Remove this book
            </Button>
          </>
        )}
        <Typography variant="body2" color="text.secondary">
          {ready ? 'A ready-made book stays as it is.' : '{gear}, {side} and {reference} stand for what is right at each mark.'}
        </Typography>
      </Stack>
      <ToggleButtonGroup
        size="small"
        exclusive
        aria-label="For which braking style"
        value={school ?? 'all'}
        onChange={(_, next: BrakingSchool | 'all' | null) => next && setSchool(next === 'all' ? null : next)}
      >
        <ToggleButton value="all" sx={{ py: 0.1 }}>
          all schools
        </ToggleButton>
        {brakingSchools.map((s) => (
          <ToggleButton key={s} value={s} sx={{ py: 0.1 }}>
            {s}
          </ToggleButton>
        ))}
      </ToggleButtonGroup>
      <Table size="small" aria-label="Phrases" sx={{ '& .MuiTableCell-root': { py: 0.3, verticalAlign: 'top' } }}>
        <TableHead>
          <TableRow>
            <TableCell>For</TableCell>
            {forms.map((f) => (
              <TableCell key={f}>{f}</TableCell>
            ))}
          </TableRow>
        </TableHead>
        <TableBody>
          {callKinds.map((kind) => (
            <TableRow key={kind}>
              <TableCell sx={{ fontWeight: 600 }}>{markNames[kind]}</TableCell>
              {forms.map((name, form) => {
                const text = own(kind)?.[form] ?? ''
                const usual = school ? (book.phrases[kind]?.[form] ?? '') : ''
                const problem = problems.find((p) => p.kind === kind && p.form === form)
                return (
                  <TableCell key={name}>
                    {ready ? (
                      text || (usual ? <Box sx={{ color: 'text.secondary' }}>{usual}</Box> : '–')
                    ) : (
                      <TextField
                        key={text}
                        fullWidth
                        defaultValue={text}
                        placeholder={usual}
                        error={problem !== undefined}
                        helperText={problem ? problemWords[problem.problem](problem.found) : undefined}
                        slotProps={{
                          htmlInput: { 'aria-label': `${markNames[kind]}, ${name.toLowerCase()}`, maxLength: [120, 80, 40][form] },
                        }}
                        onBlur={(e) => e.target.value !== text && phrase(kind, form, e.target.value)}
                      />
                    )}
                  </TableCell>
                )
              })}
            </TableRow>
          ))}
        </TableBody>
      </Table>
    </Stack>
  )
}

/** A book as the school settings keeps it. */
const asStored = ({ words, phrases, schools, ...book }: PhraseBook) => ({
  ...book,
  words: { ...words, gears: [...words.gears] },
  phrases: writable(phrases),
  ...(schools ? { schools: Object.fromEntries(Object.entries(schools).map(([school, own]) => [school, writable(own)])) } : {}),
})

const writable = (phrases: Phrases) =>
  Object.fromEntries(Object.entries(phrases).map(([kind, p]) => [kind, [...p] as [string, string, string]]))
