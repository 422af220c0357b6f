import { LinearProgress, Stack, Typography } from '@mui/material'
import { api } from '@ochote/contract'
import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { v7 as uuid } from 'uuid'
import { call } from '../data/api/api-client.ts'
import { staffWords } from './language/staff-words.ts'
import type { LogStepWords } from './language/student-words.ts'

/** Step of the work on a log, and the share that is done (0 … 1). */
export type LogStep = { step: keyof LogStepWords; share: number }

const ASK_MS = 250

/** Sends a log to the server and hears how far it is. */
export const useLogSending = () => {
  const [sending, setSending] = useState<{ reading: string; sent: number } | null>(null)
  const { data } = useQuery({
    queryKey: ['readings', sending?.reading],
    queryFn: () => call(api.reading, { params: { importId: sending?.reading ?? '' } }),
    enabled: sending !== null && sending.sent >= 1,
    refetchInterval: ASK_MS,
    gcTime: 0,
  })
  const step: LogStep | null =
    sending && (sending.sent < 1 ? { step: 'sending', share: sending.sent } : (data ?? { step: 'reading', share: 0 }))
  /** `send` is given the id to send along, and tells which share is sent. */
  const run = async <T,>(send: (reading: string, onSent: (share: number) => void) => Promise<T>): Promise<T> => {
    const reading = uuid()
    setSending({ reading, sent: 0 })
    try {
      return await send(reading, (sent) => setSending({ reading, sent }))
    } finally {
      setSending(null)
    }
  }
  return { step, run }
}

/** Progress of a log. */
export const LogSending = ({ step: { step, share }, words = staffWords.phone.logSteps }: { step: LogStep; words?: LogStepWords }) => (
  <Stack role="status" aria-label={words[step]} sx={{ minWidth: 220 }}>
    <Typography variant="text" className="figures">{`${words[step]}, ${Math.round(100 * share)}%`}</Typography>
    <LinearProgress aria-hidden variant="determinate" value={100 * share} sx={{ height: 6 }} />
  </Stack>
)
