import { Alert, Box, Button, Stack, ToggleButton, ToggleButtonGroup, Typography } from '@mui/material'
import { type CallEdit, type CallTiming, checkPhraseBook, type PhraseBook, type Plan, stationAtTime, unspeakableForms } from '@ochote/core'
import { useDeferredValue, useMemo, useState } from 'react'
import { Link, useSearchParams } from 'react-router'
import { useDay } from '../../data/day/day-context.tsx'
import { useDayPart } from '../../data/day/use-day-part.ts'
import { usePlan } from '../../data/plan/use-plan.ts'
import { useSchoolSettings } from '../../data/school/use-school-settings.ts'
import { inside, say } from '../../language/say.ts'
import { columns, restOfWindow } from '../../look/columns.ts'
import { LapBand } from '../../shared/band/lap-band.tsx'
import { callNames } from '../../shared/calls/call-words.ts'
import { spansOf, useCallSheet } from '../../shared/calls/use-call-sheet.ts'
import { useCalledLap } from '../../shared/calls/use-called-lap.ts'
import { ProblemNote } from '../../shared/problem-note.tsx'
import { Reading } from '../../shared/reading.tsx'
import { useLapSelection } from '../../shared/selection/lap-selection.tsx'
import { useLapKeys } from '../../shared/selection/use-lap-keys.ts'
import { StageHead } from '../../shared/stage-head.tsx'
import { UndoRedo } from '../../shared/undo-redo.tsx'
import { BookEditor } from './book-editor.tsx'
import { CallOptions, type CallsFor } from './call-options.tsx'
import { CallSheetTable, LeftOut } from './call-sheet-table.tsx'

/** The call sheet: what is said where, drawn on the lap, to be dragged, locked and silenced. */
export const CallsPage = () => {
  const { settings } = useDay()
  const { plan: newest, error } = usePlan(settings)
  const planned = useDeferredValue(newest)
  const { books } = useSchoolSettings()
  const { value: work, change, undo, redo, kept } = useDayPart('calls')
  const [who, setWho] = useState<CallsFor>({ intensity: 'driven', studentId: null, lap: 'coached' })
  const { plan, lap } = useCalledLap(planned, settings, who.lap)
  const [search] = useSearchParams()
  const [panel, setPanel] = useState<'sheet' | 'book'>(search.get('panel') === 'book' ? 'book' : 'sheet')
  const [selected, setSelected] = useState<string | null>(null)
  const [dragged, setDragged] = useState<{ id: string; along_m: number } | null>(null)
  const state = useCallSheet(plan, settings, { work, intensity: who.intensity, studentId: who.studentId, lap })
  const { selectCorner, moveTo, cornerId } = useLapSelection()
  useLapKeys(plan)
  const spans = useMemo(() => (plan && state ? spansOf(plan, state, dragged) : []), [plan, state, dragged])
  const layers = useMemo(() => ({ spans, selectedSpan: selected }), [spans, selected])
  if (!plan || !state || !settings) return error ? <ProblemNote error={error} /> : <Reading what={say`Computing the calls …`} />
  const { sheet, book, timing, tooFast } = state
  const edit = (key: string, next: CallEdit): void => change({ calls: { ...work.calls, [key]: { ...work.calls[key], ...next } } })
  const drag = (id: string, along_m: number, done: boolean): void => {
    if (!kept) return
    if (!done) {
      setDragged({ id, along_m })
      return
    }
    setDragged(null)
    const call = sheet.calls.find((c) => c.key === id)
    if (!call || Math.abs(along_m) < 1) return
    const speed =
      plan.profile.speed_mps[Math.min(plan.circuit.count - 1, Math.floor(stationAtTime(plan, call.end_s) / plan.circuit.step_m))]
    const earlier_s = Math.max(0, (work.calls[id]?.earlier_s ?? 0) - along_m / speed)
    edit(id, { earlier_s: Math.round(earlier_s * 100) / 100 })
  }
  const choose = (id: string): void => {
    setSelected(id)
    const call = sheet.calls.find((c) => c.key === id)
    if (call) {
      selectCorner(call.cornerId)
      moveTo(call.markStation_m)
    }
  }
  return (
    <Stack spacing={2}>
      <StageHead stage="Brief" facts={say`${sheet.calls.length} calls said, ${sheet.dropped.length} left out`}>
        <UndoRedo undo={undo} redo={redo} />
        <Button
          size="small"
          variant="outlined"
          component={Link}
          to={`/brief/call-sheet?talk=${who.intensity}&lap=${who.lap}${who.studentId ? `&student=${who.studentId}` : ''}`}
        >
          {say`Print`}
        </Button>
      </StageHead>
      <ProblemNote error={error} />
      <CallOptions work={work} books={books} who={who} kept={kept} onWho={setWho} onChange={change} />
      <BookWarnings plan={plan} book={book} timing={timing} />
      <LapBand plan={plan} layers={layers} height={200} label={say`Calls on the lap`} onSpan={choose} onSpanDrag={drag} />
      <Typography variant="text" color="text.secondary">
        {say`Bars: where each call is said; the line leads to its mark. Drag a bar to say it earlier; zoom in to read.${tooFast.length > 0 ? say` Above the road: ${tooFast.length} ${tooFast.length === 1 ? say`stretch` : say`stretches`} too fast to speak.` : ''}`}
      </Typography>
      <ToggleButtonGroup
        size="small"
        exclusive
        aria-label={say`Below the lap`}
        value={panel}
        onChange={(_, v: 'sheet' | 'book' | null) => v && setPanel(v)}
      >
        <ToggleButton value="sheet" sx={{ py: 0 }}>
          {say`Call sheet`}
        </ToggleButton>
        <ToggleButton value="book" sx={{ py: 0 }}>
          {say`Phrases`}
        </ToggleButton>
      </ToggleButtonGroup>
      {panel === 'book' ? (
        <BookEditor bookId={work.bookId} onBook={(bookId) => change({ bookId })} />
      ) : (
        <Box sx={columns('minmax(0, 1.5fr) minmax(0, 1fr)')}>
          <Box
            role="region"
            aria-label={say`Calls, scroll`}
            tabIndex={0}
            sx={{ maxHeight: { md: restOfWindow(470, 240) }, overflow: 'auto' }}
          >
            <CallSheetTable plan={plan} sheet={sheet} selected={selected} kept={kept} onChoose={choose} onEdit={edit} />
          </Box>
          <Box
            role="region"
            aria-label={say`Left out, scroll`}
            tabIndex={0}
            sx={{ maxHeight: { md: restOfWindow(470, 240) }, overflow: 'auto' }}
          >
            <LeftOut
              plan={plan}
              sheet={sheet}
              intensity={who.intensity}
              cornerId={cornerId}
              silentCorners={work.silentCorners}
              kept={kept}
              onSilentCorners={(silentCorners) => change({ silentCorners })}
              onEdit={edit}
            />
          </Box>
        </Box>
      )}
    </Stack>
  )
}

/** Forms of the book that do not fit this circuit or do not hold together. */
const BookWarnings = ({ plan, book, timing }: { plan: Plan; book: PhraseBook; timing: CallTiming }) => {
  const problems = checkPhraseBook(book)
  const wordy = unspeakableForms(plan, book, timing)
  if (problems.length === 0 && wordy.length === 0) return null
  return (
    <Alert severity="warning" icon={false} role="note" sx={{ py: 0 }}>
      {problems.length > 0 &&
        say`The book “${book.name}” has ${problems.length} ${problems.length === 1 ? say`form` : say`forms`} to mend; see Phrases. `}
      {wordy.map(
        (w) =>
          say`A form for ${inside(callNames[w.kind])} takes ${w.takes_s.toFixed(1)} s, longer than any gap between marks here (${w.longestGap_s.toFixed(1)} s): shorter forms are said instead. `,
      )}
    </Alert>
  )
}
