import { Box, Button, Stack } from '@mui/material'
import { useEffect, useRef, useState } from 'react'
import { say } from '../../language/say.ts'
import { wallClock } from './run-words.ts'

/** A line counts as read once it has been in sight this long (ms). */
const READ_MS = 1000

/** Which of some lines have been in sight long enough to be read. */
const useSeen = (count: number): { list: React.RefObject<HTMLDivElement | null>; all: boolean } => {
  const list = useRef<HTMLDivElement>(null)
  const [seen, setSeen] = useState<ReadonlySet<number>>(new Set())
  useEffect(() => {
    const timers = new Map<number, ReturnType<typeof setTimeout>>()
    const lines = [...(list.current?.children ?? [])]
    const watch = new IntersectionObserver(
      (entries) => {
        for (const { target, isIntersecting } of entries) {
          const k = lines.indexOf(target)
          clearTimeout(timers.get(k))
          if (isIntersecting)
            timers.set(
              k,
              setTimeout(() => setSeen((before) => new Set(before).add(k)), READ_MS),
            )
        }
      },
      { threshold: 0.9 },
    )
    for (const line of lines) watch.observe(line)
    return () => {
      watch.disconnect()
      for (const timer of timers.values()) clearTimeout(timer)
    }
  }, [])
  return { list, all: seen.size >= count }
}

/** Looked over before rolling: one touch when all is well and every line was in sight, else a touch on each line that is not. */
export const CheckOff = ({
  lines,
  checked,
  onCheck,
}: {
  lines: readonly string[]
  checked: { at: string; open: readonly string[] } | null
  onCheck: (open: readonly string[]) => void
}) => {
  if (lines.length === 0) return null
  if (checked)
    return (
      <Box
        role="status"
        aria-label={say`Checked`}
        sx={{ fontSize: 'size.note', color: checked.open.length > 0 ? 'warning.main' : 'text.primary', fontWeight: 600 }}
      >
        {checked.open.length === 0
          ? say`Checked at ${wallClock(checked.at, false)}: all OK`
          : say`Not well at ${wallClock(checked.at, false)}: ${checked.open.join(', ')}`}
      </Box>
    )
  return <Looking lines={lines} onCheck={onCheck} />
}

const Looking = ({ lines, onCheck }: { lines: readonly string[]; onCheck: (open: readonly string[]) => void }) => {
  const [open, setOpen] = useState<readonly string[]>([])
  const { list, all } = useSeen(lines.length)
  return (
    <Stack component="section" aria-label={say`Before rolling`} spacing={3}>
      <Box ref={list} sx={{ display: 'grid', gridTemplateColumns: { xs: '1fr', sm: '1fr 1fr' }, gap: 3 }}>
        {lines.map((line) => {
          const wrong = open.includes(line)
          return (
            <Button
              key={line}
              variant="outlined"
              color={wrong ? 'warning' : 'secondary'}
              aria-pressed={wrong}
              onClick={() => setOpen(wrong ? open.filter((l) => l !== line) : [...open, line])}
              sx={{ justifyContent: 'flex-start', textAlign: 'left' }}
            >
              {wrong ? say`${line}: not OK` : line}
            </Button>
          )
        })}
      </Box>
      <Button
        variant="outlined"
        disabled={open.length === 0 && !all}
        sx={{ alignSelf: 'flex-start', border: 'strong' }}
        onClick={() => onCheck(open)}
      >
        {open.length > 0 ? say`Log ${open.length} not OK` : all ? say`All OK` : say`Look at each first`}
      </Button>
    </Stack>
  )
}
