import { type Acknowledged, api } from '@ochote/contract'
import type { RecallRound } from '@ochote/core'
import { useMemo } from 'react'
import { v7 as uuid } from 'uuid'
import { ApiProblem, call } from '../api/api-client.ts'
import { eventQueue } from './event-queue.ts'
import { useQueuedEvents } from './use-queued-events.ts'

/** A round on this device: by which link it was driven. */
type QueuedRound = RecallRound & { id: string; token: string }

/** Sends rounds by one link; those of a link that is gone can never be sent. */
const sendBy = async (token: string, rounds: readonly QueuedRound[], deviceNow: string): Promise<Acknowledged> => {
  const events = rounds.map(({ token: _, ...round }) => round)
  try {
    return await call(api.portalRecalled, { params: { token }, body: { events, deviceNow } })
  } catch (error) {
    if (!(error instanceof ApiProblem && error.problem.status === 404)) throw error
    const { title, remedy = '' } = error.problem
    return { stored: [], refused: events.map(({ id }) => ({ id, title, remedy })), clockAhead_s: 0 }
  }
}

/** Rounds driven from memory on this device, sent when it can. */
export const recallQueue = eventQueue<QueuedRound>(
  'recalled',
  (round) => round.token,
  async (rounds, deviceNow) => {
    const answers: Acknowledged[] = []
    for (const token of new Set(rounds.map((r) => r.token)))
      answers.push(await sendBy(token, rounds.filter((r) => r.token === token).slice(0, 50), deviceNow))
    return {
      stored: answers.flatMap((a) => a.stored),
      refused: answers.flatMap((a) => a.refused),
      clockAhead_s: answers[0]?.clockAhead_s ?? 0,
    }
  },
)

/** A student's rounds by a link, oldest first, those here that the server does not have yet among them, and how to keep another. */
export const useRecallRounds = (token: string, remote: readonly RecallRound[]) => {
  const known = useMemo(() => remote.map((round) => ({ ...round, token })), [remote, token])
  const kept = useQueuedEvents(recallQueue, token, known)
  return useMemo(
    () => ({
      rounds: kept.map((event): RecallRound => event.doc),
      waiting: kept.filter((event) => event.sent === 0).length,
      keep: (round: Omit<RecallRound, 'id' | 'at'>): Promise<void> =>
        recallQueue.log({ ...round, id: uuid(), at: new Date().toISOString(), token }),
    }),
    [kept, token],
  )
}
