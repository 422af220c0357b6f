import {
  Alert,
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
  type CallEdit,
  callKey,
  checkPhraseBook,
  cornerName,
  type DroppedCall,
  type Intensity,
  intensities,
  intensityCaps,
  stationAtTime,
  unspeakableForms,
} from '@ochote/core'
import { useDeferredValue, useMemo, useState } from 'react'
import { useDay } from '../../data/day/day-context.tsx'
import { useDayPart } from '../../data/day/use-day-part.ts'
import { usePlan } from '../../data/plan/use-plan.ts'
import { useSchoolSettings } from '../../data/school/use-school-settings.ts'
import { LapBand } from '../../shared/band/lap-band.tsx'
import { spansOf, useCallSheet } from '../../shared/calls/use-call-sheet.ts'
import { cornerLabel } from '../../shared/corner-card/corner-words.ts'
import { markNames } from '../../shared/marks/mark-words.ts'
import { PickField } from '../../shared/pick-field.tsx'
import { ProblemNote } from '../../shared/problem-note.tsx'
import { useLapSelection } from '../../shared/selection/lap-selection.tsx'
import { useLapKeys } from '../../shared/selection/use-lap-keys.ts'
import { StudentChoice } from '../../shared/student-choice.tsx'
import { UndoRedo } from '../../shared/undo-redo.tsx'
import { BookEditor } from './book-editor.tsx'
import { BriefTabs } from './brief-tabs.tsx'

const intensityWords: Record<Intensity, string> = { quiet: 'Quiet', guided: 'Guided', driven: 'Driven' }

const reasonInWords = (dropped: DroppedCall, nameOf: (cornerId: string) => string, intensity: Intensity): string => {
  switch (dropped.reason) {
    case 'no-time':
      return dropped.against
        ? `no time: “${markNames[dropped.against.kind].toLowerCase()}” at ${nameOf(dropped.against.cornerId)} matters more`
        : 'no time'
    case 'corner-cap':
      return intensity === 'quiet' ? 'quiet: nothing is called' : `${intensity}: at most ${intensityCaps[intensity].perCorner} per corner`
    case 'lap-cap':
      return `${intensity}: at most ${intensityCaps[intensity].perLap} in a lap`
    case 'silenced':
      return 'silenced by hand'
    case 'silent-corner':
      return 'this corner is silent'
  }
}

const saidOptions = [
  ['car', 'in the car'],
  ['radio', 'by radio'],
] as const

/** The call sheet: what is said where, drawn on the lap, to be dragged, locked and silenced. */
export const CallsPage = () => {
  const { settings } = useDay()
  const { plan: newest, error } = usePlan(settings)
  const plan = useDeferredValue(newest)
  const { books } = useSchoolSettings()
  const { value: work, change, undo, redo, kept } = useDayPart('calls')
  const [intensity, setIntensity] = useState<Intensity>('driven')
  const [studentId, setStudentId] = useState<string | null>(null)
  const [panel, setPanel] = useState<'sheet' | 'book'>('sheet')
  const [selected, setSelected] = useState<string | null>(null)
  const [dragged, setDragged] = useState<{ id: string; along_m: number } | null>(null)
  const state = useCallSheet(plan, settings, { work, intensity, studentId })
  const { selectCorner, moveTo, cornerId } = useLapSelection()
  useLapKeys(plan)
  const spans = useMemo(() => (plan && state ? spansOf(plan, state, dragged) : []), [plan, state, dragged])
  const layers = useMemo(() => ({ spans, selectedSpan: selected }), [spans, selected])
  if (!plan || !state || !settings) return <ProblemNote error={error} />
  const { sheet, book, timing, tooFast } = state
  const nameOf = (id: string): string => cornerName(plan.corners, id)
  const hand = (key: string, next: CallEdit): void => change({ calls: { ...work.calls, [key]: { ...work.calls[key], ...next } } })
  const drag = (id: string, along_m: number, done: boolean): void => {
    if (!kept) return
    if (!done) {
      setDragged({ id, along_m })
      return
    }
    setDragged(null)
    const call = sheet.calls.find((c) => callKey(c.cornerId, c.kind) === id)
    if (!call || Math.abs(along_m) < 1) return
    const speed =
      plan.profile.speed_mps[Math.min(plan.circuit.count - 1, Math.floor(stationAtTime(plan, call.end_s) / plan.circuit.step_m))]
    const earlier_s = Math.max(0, (work.calls[id]?.earlier_s ?? 0) - along_m / speed)
    hand(id, { earlier_s: Math.round(earlier_s * 100) / 100 })
  }
  const choose = (id: string): void => {
    setSelected(id)
    const call = sheet.calls.find((c) => callKey(c.cornerId, c.kind) === id)
    if (call) {
      selectCorner(call.cornerId)
      moveTo(call.markStation_m)
    }
  }
  const problems = checkPhraseBook(book)
  const wordy = unspeakableForms(plan, book, timing)
  return (
    <Stack spacing={1}>
      <Stack direction="row" useFlexGap spacing={1.5} sx={{ alignItems: 'center', flexWrap: 'wrap' }}>
        <Typography variant="h1">Calls</Typography>
        <BriefTabs />
        <Typography color="text.secondary" role="status" className="figures">
          {`${sheet.calls.length} calls said, ${sheet.dropped.length} left out`}
        </Typography>
        <Box sx={{ flex: 1 }} />
        <UndoRedo undo={undo} redo={redo} />
      </Stack>
      <ProblemNote error={error} />
      <Stack direction="row" useFlexGap spacing={2} sx={{ alignItems: 'flex-end', flexWrap: 'wrap' }}>
        <ToggleButtonGroup
          size="small"
          exclusive
          aria-label="How much talk"
          value={intensity}
          onChange={(_, v: Intensity | null) => v && setIntensity(v)}
        >
          {intensities.map((i) => (
            <ToggleButton key={i} value={i} sx={{ py: 0.2 }}>
              {intensityWords[i]}
            </ToggleButton>
          ))}
        </ToggleButtonGroup>
        <StudentChoice
          studentId={studentId}
          onChoose={(student) => {
            setStudentId(student?.id ?? null)
            if (student) setIntensity(student.talk)
          }}
        />
        <PickField
          label="Phrase book"
          value={work.bookId}
          disabled={!kept}
          options={books.map((b) => [b.id, b.name] as const)}
          onPick={(bookId) => change({ bookId })}
          width={270}
        />
        <PickField
          label="Said"
          value={work.link_s > 0 ? 'radio' : 'car'}
          disabled={!kept}
          options={saidOptions}
          onPick={(said) => change({ link_s: said === 'radio' ? 0.3 : 0 })}
          width={120}
        />
        <Seconds
          label="Reaction"
          unit="s"
          value={work.reaction_s}
          range={[0.2, 3]}
          disabled={!kept}
          onChange={(reaction_s) => change({ reaction_s })}
        />
        <Seconds
          label="Words per second"
          unit=""
          value={work.rate_wps}
          range={[1, 8]}
          disabled={!kept}
          onChange={(rate_wps) => change({ rate_wps })}
        />
      </Stack>
      {(problems.length > 0 || wordy.length > 0) && (
        <Alert severity="warning" icon={false} role="note" sx={{ py: 0 }}>
          {problems.length > 0 &&
            `The book “${book.name}” has ${problems.length} ${problems.length === 1 ? 'form' : 'forms'} to mend; see Phrases. `}
          {wordy.map(
            (w) =>
              `A form for ${markNames[w.kind].toLowerCase()} takes ${w.takes_s.toFixed(1)} s, longer than any gap between marks here (${w.longestGap_s.toFixed(1)} s): shorter forms are said instead. `,
          )}
        </Alert>
      )}
      <LapBand plan={plan} layers={layers} height={200} label="Calls on the lap" onSpan={choose} onSpanDrag={drag} />
      <Typography variant="body2" color="text.secondary">
        {`Bars: where each call is said; the line leads to its mark. Drag a bar to say it earlier; zoom in to read.${tooFast.length > 0 ? ` Above the road: ${tooFast.length} ${tooFast.length === 1 ? 'stretch' : 'stretches'} too fast to speak.` : ''}`}
      </Typography>
      <ToggleButtonGroup
        size="small"
        exclusive
        aria-label="Below the lap"
        value={panel}
        onChange={(_, v: 'sheet' | 'book' | null) => v && setPanel(v)}
      >
        <ToggleButton value="sheet" sx={{ py: 0.1 }}>
          Call sheet
        </ToggleButton>
        <ToggleButton value="book" sx={{ py: 0.1 }}>
          Phrases
        </ToggleButton>
      </ToggleButtonGroup>
      {panel === 'book' ? (
        <BookEditor bookId={work.bookId} onBook={(bookId) => change({ bookId })} />
      ) : (
        <Box sx={{ display: 'grid', gridTemplateColumns: 'minmax(0, 1.5fr) minmax(0, 1fr)', gap: 3 }}>
          <Box role="region" aria-label="Calls, scroll" tabIndex={0} sx={{ maxHeight: 330, overflow: 'auto' }}>
            <Table
              size="small"
              stickyHeader
              aria-label="Call sheet"
              sx={{ '& .MuiTableCell-root': { px: 0.75, py: 0.15, whiteSpace: 'nowrap' } }}
            >
              <TableHead>
                <TableRow>
                  <TableCell>Corner</TableCell>
                  <TableCell>Mark</TableCell>
                  <TableCell>Said</TableCell>
                  <TableCell align="right">Start</TableCell>
                  <TableCell align="right">Lead</TableCell>
                  <TableCell />
                </TableRow>
              </TableHead>
              <TableBody>
                {sheet.calls.map((call) => {
                  const key = callKey(call.cornerId, call.kind)
                  return (
                    <TableRow key={key} hover selected={key === selected} onClick={() => choose(key)} sx={{ cursor: 'pointer' }}>
                      <TableCell>{nameOf(call.cornerId)}</TableCell>
                      <TableCell>{markNames[call.kind]}</TableCell>
                      <TableCell sx={{ '&.MuiTableCell-root': { whiteSpace: 'normal', fontWeight: 600 } }}>{call.phrase}</TableCell>
                      <TableCell align="right" className="figures">{`${Math.round(stationAtTime(plan, call.start_s))} m`}</TableCell>
                      <TableCell align="right" className="figures">{`${(call.mark_s - call.start_s).toFixed(1)} s`}</TableCell>
                      <TableCell align="right">
                        <Button
                          size="small"
                          variant={call.locked ? 'contained' : 'text'}
                          disabled={!kept}
                          aria-pressed={call.locked}
                          sx={{ minHeight: 0, py: 0, px: 0.75, minWidth: 0 }}
                          onClick={() => hand(key, { locked: !call.locked })}
                        >
                          Lock
                        </Button>
                        <Button
                          size="small"
                          variant="text"
                          disabled={!kept}
                          sx={{ minHeight: 0, py: 0, px: 0.75, minWidth: 0 }}
                          onClick={() => hand(key, { silent: true, locked: false })}
                        >
                          Silence
                        </Button>
                      </TableCell>
                    </TableRow>
                  )
                })}
              </TableBody>
            </Table>
            {sheet.calls.length === 0 && <Typography sx={{ p: 1 }}>Quiet: no calls in the car; it waits for the debrief.</Typography>}
          </Box>
          <Box role="region" aria-label="Left out, scroll" tabIndex={0} sx={{ maxHeight: 330, overflow: 'auto' }}>
            {cornerId && (
              <Button
                size="small"
                variant={work.silentCorners.includes(cornerId) ? 'contained' : 'outlined'}
                disabled={!kept}
                aria-pressed={work.silentCorners.includes(cornerId)}
                onClick={() =>
                  change({
                    silentCorners: work.silentCorners.includes(cornerId)
                      ? work.silentCorners.filter((c) => c !== cornerId)
                      : [...work.silentCorners, cornerId],
                  })
                }
                sx={{ mb: 1 }}
              >
                {work.silentCorners.includes(cornerId) ? `Speak again at ${nameOf(cornerId)}` : `Say nothing at ${nameOf(cornerId)}`}
              </Button>
            )}
            <Typography variant="h2">Left out</Typography>
            {sheet.dropped.map((d) => (
              <Stack
                key={callKey(d.cornerId, d.kind)}
                direction="row"
                spacing={1}
                sx={{ py: 0.25, borderBottom: '1px solid', borderColor: 'divider', fontSize: '0.86rem' }}
              >
                <Box
                  sx={{ width: 150, fontWeight: 600 }}
                >{`${cornerLabel({ id: d.cornerId, name: nameOf(d.cornerId) })}, ${markNames[d.kind].toLowerCase()}`}</Box>
                <Box sx={{ flex: 1, color: 'text.secondary' }}>{reasonInWords(d, nameOf, intensity)}</Box>
                {d.reason === 'silenced' && (
                  <Button
                    size="small"
                    variant="text"
                    sx={{ minHeight: 0, py: 0 }}
                    onClick={() => hand(callKey(d.cornerId, d.kind), { silent: false })}
                  >
                    Say it
                  </Button>
                )}
              </Stack>
            ))}
          </Box>
        </Box>
      )}
    </Stack>
  )
}

const Seconds = ({
  label,
  unit,
  value,
  range: [min, max],
  disabled,
  onChange,
}: {
  label: string
  unit: string
  value: number
  range: readonly [number, number]
  disabled: boolean
  onChange: (value: number) => void
}) => (
  <TextField
    key={value}
    label={unit ? `${label}, ${unit}` : label}
    type="number"
    defaultValue={value}
    disabled={disabled}
    slotProps={{ htmlInput: { min: min, max: max, step: 0.1 } }}
    onBlur={(e) => {
      const next = Number(e.target.value)
      if (next >= min && next <= max && next !== value) onChange(next)
      else e.target.value = String(value)
    }}
    sx={{ width: 110 }}
  />
)
