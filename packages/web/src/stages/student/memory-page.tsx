import { Box, Button, Link, Stack, Typography } from '@mui/material'
import type { RecallTask } from '@ochote/contract'
import {
  closedTargets,
  conesShown,
  cornersDue,
  judgeTaps,
  type LapPart,
  lapPartOf,
  type Plan,
  type RecallMode,
  type RecallTap,
  recallModes,
  recallTargets,
  type UnitSystem,
  wholeLapPart,
} from '@ochote/core'
import { QueryClientProvider, useQuery } from '@tanstack/react-query'
import { useMemo, useState } from 'react'
import { Link as RouterLink, useParams } from 'react-router'
import { clientOfLink, portalQuery, portalRecallQuery } from '../../data/api/queries.ts'
import { useRecallRounds } from '../../data/events/recall-queue.ts'
import { useLink } from '../../data/events/use-link.ts'
import { usePlan } from '../../data/plan/use-plan.ts'
import type { StudentWords } from '../../shared/language/student-words.ts'
import { browserLanguage, wordsIn } from '../../shared/language/words.ts'
import { ProblemNote } from '../../shared/problem-note.tsx'
import { Reading } from '../../shared/reading.tsx'
import { MemoryClosed, MemoryDrive } from './memory-drive.tsx'
import { type Driven, MemoryResult } from './memory-result.tsx'

/** The lap driven from memory by a student's link, on a phone or at a desk; once open it needs no network. */
export const MemoryPage = () => {
  const { token = '' } = useParams()
  const portal = useQuery(portalQuery(token))
  const task = useQuery(portalRecallQuery(token))
  const [student, opened] = [useLink(token, portal)?.student, useLink(token, task)]
  const words = wordsIn(student?.profile.language ?? browserLanguage())
  // What was kept of an earlier visit does when there is no network.
  if (!opened || !student)
    return (
      <Box component="main" sx={{ p: 4, maxWidth: 520, mx: 'auto' }}>
        <Reading what={words.phone.reading} frame="lap" error={task.error ?? portal.error} />
      </Box>
    )
  return (
    <Box component="main" lang={words.code}>
      <WithPlan token={token} task={opened} words={words} units={student.units} />
    </Box>
  )
}

type Props = { token: string; task: RecallTask; words: StudentWords; units: UnitSystem }

/** Circuit and vehicle are here already; nothing is asked of calls that need a sign-in. */
const WithPlan = (props: Props) => {
  const { circuit, vehicle } = props.task
  const client = useMemo(() => clientOfLink({ circuit, vehicle }), [circuit, vehicle])
  return (
    <QueryClientProvider client={client}>
      <Memory {...props} />
    </QueryClientProvider>
  )
}

const Memory = ({ token, task, words, units }: Props) => {
  const { plan, error } = usePlan(task.settings)
  const targets = useMemo(() => plan && recallTargets(plan), [plan])
  if (!plan || !targets)
    return error ? <ProblemNote error={error} language={words.code} /> : <Reading what={words.phone.reading} frame="lap" />
  return <Rounds token={token} task={task} words={words} units={units} plan={plan} targets={targets} />
}

/** A round that was begun: parts of the lap, or the lap with eyes closed. */
type Begun = { mode: RecallMode; corners: readonly string[]; parts: readonly LapPart[] }

const Rounds = ({ token, task, words, units, plan, targets }: Props & { plan: Plan; targets: ReturnType<typeof recallTargets> }) => {
  const { rounds, waiting, keep } = useRecallRounds(token, task.rounds)
  const [begun, setBegun] = useState<Begun | null>(null)
  const [driven, setDriven] = useState<Driven | null>(null)
  const due = useMemo(() => cornersDue(targets, rounds), [targets, rounds])
  const cones = useMemo(() => (begun ? conesShown(task.cones, begun.mode, rounds) : []), [task.cones, begun, rounds])
  const all = useMemo(() => [...new Set(targets.map((t) => t.cornerId))], [targets])
  const finish = (taps: readonly RecallTap[], lap_s: number | null): void => {
    if (!begun) return
    const asked = (begun.mode === 'closed' ? closedTargets(targets) : targets).filter((t) => begun.corners.includes(t.cornerId))
    const { marks, extra } = judgeTaps(plan, asked, taps, begun.mode)
    setBegun(null)
    setDriven({ mode: begun.mode, marks, extra, lap_s })
    void keep({ mode: begun.mode, marks, lap_s })
  }
  if (begun?.mode === 'closed') return <MemoryClosed words={words} onDone={finish} onStop={() => setBegun(null)} />
  if (begun)
    return (
      <MemoryDrive
        plan={plan}
        cones={cones}
        parts={begun.parts}
        words={words}
        onDone={(taps) => finish(taps, null)}
        onStop={() => setBegun(null)}
      />
    )
  if (driven)
    return (
      <MemoryResult
        plan={plan}
        targets={targets}
        driven={driven}
        due={due}
        waiting={waiting}
        words={words}
        units={units}
        onAgain={() => setDriven(null)}
      />
    )
  const { memory } = words.phone
  const comesBack = rounds.some((r) => r.mode !== 'closed') && due.length > 0 && due.length < all.length
  const begin = (mode: RecallMode, corners: readonly string[]): void =>
    setBegun({
      mode,
      corners,
      parts:
        corners.length === all.length
          ? [wholeLapPart(plan, targets)]
          : corners.flatMap((id) => lapPartOf(targets, id, plan.profile.lapTime_s) ?? []),
    })
  return (
    <Stack spacing={4} sx={{ p: 4, maxWidth: 520, mx: 'auto' }}>
      <Link component={RouterLink} to={`/s/${token}`}>
        {words.phone.backToPage}
      </Link>
      <Typography variant="title" component="h1">
        {memory.title}
      </Typography>
      <Typography>{memory.note}</Typography>
      <Typography>{`${memory.hold} ${memory.keys}`}</Typography>
      {comesBack && (
        <Button variant="contained" onClick={() => begin('fading', due)}>
          {memory.back(due.length)}
        </Button>
      )}
      {recallModes.map((mode, k) => (
        <Box key={mode}>
          <Button fullWidth variant={k === 0 && !comesBack ? 'contained' : 'outlined'} onClick={() => begin(mode, all)}>
            {memory.modes[mode].name}
          </Button>
          <Typography color="text.secondary" sx={{ mt: 1 }}>
            {memory.modes[mode].note}
          </Typography>
        </Box>
      ))}
      <Typography color="text.secondary" role="status">
        {waiting > 0 ? memory.waiting(waiting) : memory.offline}
      </Typography>
      <Typography variant="note" color="text.secondary">
        {words.caution}
      </Typography>
    </Stack>
  )
}
