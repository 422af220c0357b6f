import { Box, Button, Stack, TextField, Typography } from '@mui/material'
import { type Focus, formatDate, type MistakeCode, mistakes } from '@ochote/core'
import { useState } from 'react'
import { inside, say, staffLanguage } from '../../language/say.ts'
import { correctionFor, countInWords, mistakeName } from '../../shared/language/staff-words.ts'
import { standingInWords } from '../../shared/pad/pad-words.ts'
import { PickField } from '../../shared/pick-field.tsx'
import { WordHelp } from '../../shared/word-help.tsx'
import type { LogbookPage } from './logbook-page.ts'

const reasonWords: Record<Focus['reason'], string> = {
  safety: say`it concerns safety`,
  often: say`it happens most`,
  costly: say`it costs the most`,
}

const named = (code: MistakeCode): string => inside(mistakeName(code))

/** Why the record chose it: worth, how it builds, and whether corrections stuck there. */
const because = (focus: Focus, runs: number): string =>
  [
    say`Chosen because ${reasonWords[focus.reason]}: seen ${focus.tally.count} times in ${focus.tally.runs} of ${runs} runs`,
    focus.tally.worth_s >= 0.05 ? say`worth ${(focus.tally.worth_s / focus.tally.count).toFixed(2)} s of time or margin each` : null,
    focus.stuck.of > 0
      ? say`corrections of it stuck ${countInWords(focus.stuck)}`
      : say`no correction can be judged yet (needs two times through)`,
  ]
    .filter(Boolean)
    .join('; ')

/** The focus of the next run: chosen by the record and explained, or set by a person with a note. */
export const FocusBox = ({ record, book, tell, nameOf }: LogbookPage) => {
  const [changing, setChanging] = useState(false)
  const [first, ...then] = book.focus
  const set = book.state.focus
  const stuck = set && book.focus.find((f) => f.cornerId === set.cornerId && f.code === set.code)
  return (
    <Box component="section" aria-label={say`Next focus`} sx={{ borderLeft: 'note', borderColor: 'text.primary', pl: 4 }}>
      <Typography variant="head" component="h3" color="text.secondary">
        {set ? say`Next focus, set by hand` : say`Next focus`}
        <WordHelp word="focus" />
      </Typography>
      {set ? (
        <>
          <Typography sx={{ fontSize: 'size.head', fontWeight: 660 }}>{`${nameOf(set.cornerId)}: ${named(set.code)}`}</Typography>
          {set.note && <Typography>{`“${set.note}”`}</Typography>}
          <Typography variant="text" color="text.secondary">
            {say`Set on ${formatDate(set.at.slice(0, 10), staffLanguage)}. ${stuck ? `${because(stuck, record.runs.length)}. ` : say`Not seen in the record so far. `}${first ? say`The record would choose ${nameOf(first.cornerId)}: ${named(first.code)}.` : ''}`}
          </Typography>
        </>
      ) : first ? (
        <>
          <Typography sx={{ fontSize: 'size.head', fontWeight: 660 }}>{`${nameOf(first.cornerId)}: ${named(first.code)}`}</Typography>
          <Typography>{correctionFor(first.code)}</Typography>
          <Typography variant="text">{`${because(first, record.runs.length)}.`}</Typography>
          {first.otherWords && (
            <Typography variant="text" color="warning.main">
              {say`Said often, and it seldom sticks: say it another way, or show it from the driver’s seat.`}
            </Typography>
          )}
        </>
      ) : (
        <Typography>{say`Nothing was logged or found so far.`}</Typography>
      )}
      {!set && then.length > 0 && (
        <Typography variant="text" color="text.secondary" sx={{ mt: 1 }}>
          {say`Then ${then
            .slice(0, 2)
            .map((f) => `${nameOf(f.cornerId)}: ${named(f.code)}`)
            .join('; ')}.`}
        </Typography>
      )}
      {book.padFocus && (
        <Typography variant="text" sx={{ mt: 1 }}>
          {say`First again on the pad: ${standingInWords(book.padFocus)}.`}
        </Typography>
      )}
      <Stack direction="row" spacing={2} sx={{ mt: 2 }}>
        <Button size="small" variant="outlined" onClick={() => setChanging(!changing)} aria-expanded={changing}>
          {changing ? say`Cancel` : say`Choose another`}
        </Button>
        {set && (
          <Button size="small" variant="outlined" onClick={() => tell({ kind: 'focus-set', focus: null, note: '' })}>
            {say`Use the suggestion`}
          </Button>
        )}
      </Stack>
      {changing && (
        <ChooseFocus
          nameOf={nameOf}
          cornerIds={[...new Set(book.passes.map((p) => p.cornerId))].sort((a, b) => a.localeCompare(b, undefined, { numeric: true }))}
          onSet={(focus, note) => {
            tell({ kind: 'focus-set', focus, note })
            setChanging(false)
          }}
        />
      )}
    </Box>
  )
}

const codes = Object.keys(mistakes).sort((a, b) => named(a as MistakeCode).localeCompare(named(b as MistakeCode))) as MistakeCode[]

const ChooseFocus = ({
  cornerIds,
  nameOf,
  onSet,
}: {
  cornerIds: readonly string[]
  nameOf: (id: string) => string
  onSet: (focus: { cornerId: string; code: MistakeCode }, note: string) => void
}) => {
  const [cornerId, setCornerId] = useState(cornerIds[0] ?? '')
  const [code, setCode] = useState<MistakeCode>('eyes-near')
  const [note, setNote] = useState('')
  return (
    <Stack
      component="form"
      spacing={2}
      sx={{ mt: 2 }}
      onSubmit={(event) => {
        event.preventDefault()
        if (note.trim() !== '') onSet({ cornerId, code }, note.trim())
      }}
    >
      <Stack direction="row" spacing={2}>
        <PickField
          label={say`Corner`}
          value={cornerId}
          onPick={setCornerId}
          width={150}
          options={cornerIds.map((id) => [id, nameOf(id)])}
        />
        <PickField label={say`Mistake`} value={code} onPick={setCode} width="grow" options={codes.map((c) => [c, mistakeName(c)])} />
      </Stack>
      <Stack direction="row" spacing={2} sx={{ alignItems: 'flex-end' }}>
        <TextField
          label={say`Why this one`}
          value={note}
          onChange={(e) => setNote(e.target.value)}
          sx={{ flex: 1 }}
          slotProps={{ htmlInput: { maxLength: 300 } }}
        />
        <Button type="submit" variant="contained" disabled={note.trim() === '' || cornerId === ''}>
          {say`Set the focus`}
        </Button>
      </Stack>
    </Stack>
  )
}
