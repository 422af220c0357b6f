import { Box, Stack, Typography } from '@mui/material'
import { api, type DayBoard } from '@ochote/contract'
import { byStart, formatDate } from '@ochote/core'
import { useQuery } from '@tanstack/react-query'
import dayjs from 'dayjs'
import { useEffect, useState } from 'react'
import { useParams } from 'react-router'
import { call } from '../../data/api/api-client.ts'
import { browserLanguage, wordsIn } from '../../shared/language/words.ts'
import { ProblemNote } from '../../shared/problem-note.tsx'

/** Lines that a screen has room for at a size that is read from afar. */
const SHOWN = 8
/** How often the board asks for what changed (ms). */
const ASK_EVERY_MS = 15_000

/** The lines to show at a time: what runs, then what comes; the first ones where the day is another one or over. */
export const linesNow = (board: DayBoard, now: string | null): DayBoard['lines'] => {
  const sorted = [...board.lines].sort(byStart)
  const left = now === null ? sorted : sorted.filter((line) => line.end > now)
  return (left.length > 0 ? left : sorted).slice(0, SHOWN)
}

/** The day on a screen in the paddock: what runs now and what comes next, by link, without signing in. */
export const DayWall = () => {
  const { token = '' } = useParams()
  const language = browserLanguage()
  const { phone } = wordsIn(language)
  const board = useQuery({
    queryKey: ['board', token],
    queryFn: () => call(api.dayBoard, { params: { token } }),
    refetchInterval: ASK_EVERY_MS,
    retry: false,
  })
  const [clock, setClock] = useState(() => dayjs())
  useEffect(() => {
    const timer = setInterval(() => setClock(dayjs()), 1000)
    return () => clearInterval(timer)
  }, [])
  if (!board.data) return <ProblemNote error={board.error} language={language} />
  const { title, date, venue } = board.data
  const now = clock.format('YYYY-MM-DD') === date ? clock.format('HH:mm') : null
  return (
    <Box component="main" sx={{ minHeight: '100dvh', px: { xs: 4, sm: 7 }, py: { xs: 4, sm: 5 } }} lang={language}>
      <Stack direction="row" spacing={5} sx={{ alignItems: 'baseline', mb: 4 }}>
        <Typography component="h1" sx={{ fontSize: 'size.lead', fontWeight: 680, fontStretch: '86%', flex: 1 }}>
          {[title, formatDate(date, language), venue].filter(Boolean).join(' · ')}
        </Typography>
        <Box className="figures" sx={{ fontSize: 'size.head', fontWeight: 680 }}>
          {clock.format('HH:mm')}
        </Box>
      </Stack>
      <Box component="ol" aria-label={phone.times} sx={{ m: 0, p: 0, listStyle: 'none' }}>
        {linesNow(board.data, now).map((line) => {
          const runs = now !== null && line.start <= now
          return (
            <Stack
              key={`${line.start} ${line.kind} ${line.name} ${line.car}`}
              component="li"
              direction="row"
              spacing={5}
              sx={{
                fontSize: 'size.text',
                py: 2,
                pl: 3,
                borderLeft: 'far',
                borderColor: runs ? 'primary.main' : 'divider',
                fontWeight: runs ? 680 : 400,
              }}
            >
              <Box className="figures" sx={{ width: '7em', flex: 'none' }}>{`${line.start}–${line.end}`}</Box>
              <Box sx={{ flex: 1 }}>{line.name || line.title || phone.timeKinds[line.kind]}</Box>
              <Box sx={{ flex: 'none' }}>
                {[phone.timeKinds[line.kind], line.car && phone.withCar(line.car)].filter(Boolean).join(', ')}
              </Box>
            </Stack>
          )
        })}
      </Box>
    </Box>
  )
}
