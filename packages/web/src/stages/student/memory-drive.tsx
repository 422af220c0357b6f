import { Box, Button, Typography } from '@mui/material'
import { type Cone, type LapPart, type Plan, type RecallAction, type RecallTap, wrapTime } from '@ochote/core'
import { type PointerEvent, useCallback, useEffect, useMemo, useRef, useState } from 'react'
import { DriveView } from '../../shared/drive/drive-view.tsx'
import { type LapClock, useLapClock } from '../../shared/drive/lap-clock.ts'
import type { StudentWords } from '../../shared/language/student-words.ts'
import { SeatView } from '../../shared/seat/seat-view.tsx'
import { visibilityOn } from '../../shared/seat/visibilities.ts'

/** Nothing that tells a place is drawn: only the road, and the cones that are left. */
const SHOWN = { line: false, marks: false, braking: false } as const

/** Plays the parts one after the other, and says when the last of them is over. */
const useParts = (clock: LapClock, parts: readonly LapPart[], lapTime_s: number, onDone: () => void): void => {
  const done = useRef(onDone)
  done.current = onDone
  const { seek, play, listen, now } = clock
  const ways = useRef({ seek, play, listen, now })
  ways.current = { seek, play, listen, now }
  useEffect(() => {
    const way = ways.current
    let [at, driven_s] = [0, 0]
    const begin = (): void => {
      driven_s = 0
      way.seek(parts[at].from_s)
    }
    begin()
    way.play(true)
    let before = way.now()
    const stop = way.listen((time_s) => {
      driven_s += wrapTime(time_s - before, lapTime_s)
      before = time_s
      if (driven_s < parts[at].length_s) return
      at++
      if (at < parts.length) {
        // Where it is taken up again is no part of what was driven.
        before = parts[at].from_s
        begin()
      } else {
        stop()
        way.play(false)
        done.current()
      }
    })
    return () => {
      stop()
      way.play(false)
    }
  }, [parts, lapTime_s])
}

const keys: Record<string, RecallAction> = { ArrowDown: 'brake', ArrowUp: 'throttle', ArrowLeft: 'turn-in', ArrowRight: 'turn-in' }

/** The road from the seat, and what the feet and hands do: the brake is held as long as it would be in the car. */
export const MemoryDrive = ({
  plan,
  cones,
  parts,
  words,
  onDone,
  onStop,
}: {
  plan: Plan
  cones: readonly Cone[]
  parts: readonly LapPart[]
  words: StudentWords
  onDone: (taps: RecallTap[]) => void
  onStop: () => void
}) => {
  const { memory } = words.phone
  const lapTime_s = plan.profile.lapTime_s
  const clock = useLapClock(lapTime_s)
  const at = useMemo(() => ({ clock }), [clock])
  const taps = useRef<RecallTap[]>([])
  const [last, setLast] = useState<RecallAction | null>(null)
  const timeAt = useRef(clock.at)
  timeAt.current = clock.at
  useParts(clock, parts, lapTime_s, () => onDone(taps.current))
  const tap = useCallback((action: RecallAction, stamp_ms: number): void => {
    taps.current.push({ action, time_s: timeAt.current(stamp_ms) })
    setLast(action)
  }, [])
  useEffect(() => {
    const onKey = (event: KeyboardEvent): void => {
      const action = keys[event.key]
      if (!action) return
      event.preventDefault()
      if (event.type === 'keyup' && action === 'brake') tap('release', event.timeStamp)
      else if (event.type === 'keydown' && !event.repeat) tap(action, event.timeStamp)
    }
    window.addEventListener('keydown', onKey)
    window.addEventListener('keyup', onKey)
    return () => {
      window.removeEventListener('keydown', onKey)
      window.removeEventListener('keyup', onKey)
    }
  }, [tap])
  const pedal = (action: 'brake' | 'turn-in' | 'throttle', area: string) => ({
    variant: 'outlined' as const,
    'aria-pressed': last === action,
    onPointerDown: (event: PointerEvent<HTMLButtonElement>) => {
      event.currentTarget.setPointerCapture(event.pointerId)
      tap(action, event.timeStamp)
    },
    ...(action === 'brake'
      ? {
          onPointerUp: (event: PointerEvent) => tap('release', event.timeStamp),
          onPointerCancel: (event: PointerEvent) => tap('release', event.timeStamp),
        }
      : {}),
    sx: { gridArea: area, minHeight: 92, fontSize: 'size.lead', touchAction: 'none', userSelect: 'none' },
    children: memory.actions[action],
  })
  return (
    <Box
      sx={{
        height: '100dvh',
        display: 'grid',
        gap: 2,
        p: 2,
        gridTemplateColumns: '1fr 1fr',
        gridTemplateRows: 'auto minmax(0, 64vw) minmax(92px, 1fr) minmax(92px, 1fr)',
        gridTemplateAreas: '"top top" "view view" "turn turn" "brake throttle"',
        '@media (orientation: landscape)': {
          gridTemplateColumns: '1fr 3fr 1fr',
          gridTemplateRows: 'auto minmax(0, 1fr) auto',
          gridTemplateAreas: '"top top top" "brake view throttle" "brake turn throttle"',
        },
      }}
    >
      <Box sx={{ gridArea: 'top', display: 'flex', alignItems: 'center', gap: 3 }}>
        <Typography sx={{ flex: 1, fontSize: 'size.note' }} role="status" aria-label={memory.title}>
          {last ? memory.actions[last] : memory.hold}
        </Typography>
        <Button variant="outlined" onClick={onStop}>
          {memory.stop}
        </Button>
      </Box>
      <Box sx={{ gridArea: 'view', minHeight: 0 }}>
        <SeatView
          plan={plan}
          cones={cones}
          at={at}
          layers={SHOWN}
          visibility={visibilityOn(plan.settings.surface)}
          height="100%"
          label={memory.view}
          words={memory.seat}
          fallback={<DriveView plan={plan} clock={clock} cones={cones} height={320} label={memory.view} />}
        />
      </Box>
      <Button {...pedal('turn-in', 'turn')} />
      <Button {...pedal('brake', 'brake')} />
      <Button {...pedal('throttle', 'throttle')} />
    </Box>
  )
}

/** A lap with eyes closed: tapped along from line to line. */
export const MemoryClosed = ({
  words,
  onDone,
  onStop,
}: {
  words: StudentWords
  /** Taps at turn-ins and the lap, from the first tap at the line (s). */
  onDone: (taps: RecallTap[], lap_s: number) => void
  onStop: () => void
}) => {
  const { memory } = words.phone
  const begun = useRef<number | null>(null)
  const taps = useRef<RecallTap[]>([])
  const [count, setCount] = useState<number | null>(null)
  const line = (event: PointerEvent): void => {
    if (begun.current === null) {
      begun.current = event.timeStamp
      setCount(0)
    } else onDone(taps.current, (event.timeStamp - begun.current) / 1000)
  }
  const turn = (event: PointerEvent): void => {
    if (begun.current === null) return
    taps.current.push({ action: 'turn-in', time_s: (event.timeStamp - begun.current) / 1000 })
    setCount(taps.current.length)
  }
  return (
    <Box sx={{ height: '100dvh', display: 'flex', flexDirection: 'column', gap: 2, p: 2 }}>
      <Box sx={{ display: 'flex', alignItems: 'center', gap: 3 }}>
        <Typography sx={{ flex: 1, fontSize: 'size.note' }} role="status" aria-label={memory.title}>
          {count === null ? memory.modes.closed.note : `${memory.actions['turn-in']}: ${count}`}
        </Typography>
        <Button variant="outlined" onClick={onStop}>
          {memory.stop}
        </Button>
      </Box>
      <Button
        variant="outlined"
        disabled={count === null}
        onPointerDown={turn}
        sx={{ flex: 2, fontSize: 'size.lead', touchAction: 'none', userSelect: 'none' }}
      >
        {memory.actions['turn-in']}
      </Button>
      <Button variant="contained" onPointerDown={line} sx={{ flex: 1, fontSize: 'size.lead', touchAction: 'none', userSelect: 'none' }}>
        {count === null ? memory.line : memory.lineAgain}
      </Button>
    </Box>
  )
}
