import { api, drivenAt, type StudentRecord, seenAt } from '@ochote/contract'
import {
  forgetting,
  levelAhead,
  mistakes,
  nextFocus,
  padFocus,
  padStandings,
  type StudentEvent,
  shareOf,
  skillStandings,
  stuckRates,
  studentStateOf,
  tallySeen,
} from '@ochote/core'
import { useMutation } from '@tanstack/react-query'
import { useMemo } from 'react'
import { v7 as uuid } from 'uuid'
import { call } from '../../data/api/api-client.ts'
import { queryClient, recordQuery, studentsQuery } from '../../data/api/queries.ts'

/** An event without what is common to all. */
type Told = StudentEvent extends infer E ? (E extends StudentEvent ? Omit<E, 'id' | 'studentId' | 'at'> : never) : never

/** All that a logbook shows, computed from the record of one circuit. */
export const logbookOf = (record: StudentRecord, circuitId: string | undefined) => {
  const seen = seenAt(record, circuitId)
  const { passes, said } = drivenAt(record, circuitId)
  const state = studentStateOf(record.decisions.map((t) => t.event))
  const stuckAt = (cornerId: string, code: (typeof seen)[number]['code']) => {
    const rates = stuckRates(
      said.filter((s) => s.cornerId === cornerId && s.code === code),
      passes,
    )
    return shareOf(
      rates.reduce((sum, r) => sum + r.rate.hits, 0),
      rates.reduce((sum, r) => sum + r.rate.of, 0),
    )
  }
  const lastRun = record.runs.length
  return {
    circuitId,
    seen,
    passes,
    state,
    focus: nextFocus(seen, stuckAt),
    padFocus: padFocus(padStandings(record.pad)),
    rates: stuckRates(said, passes),
    standings: skillStandings(passes),
    level: levelAhead(record.student.level, state.confirmed, passes),
    gaps: forgetting(passes),
    tallies: tallySeen(seen),
    safety: seen.filter((s) => s.run === lastRun && mistakes[s.code].safety),
  }
}
export type LogbookData = ReturnType<typeof logbookOf>

/** The logbook of a record, remembered until the record changes. */
export const useLogbook = (record: StudentRecord, circuitId: string | undefined): LogbookData =>
  useMemo(() => logbookOf(record, circuitId), [record, circuitId])

/** Says something about a student; the answer replaces what the record held. */
export const useTell = (studentId: string) => {
  const tell = useMutation({
    mutationFn: (decisions: Told) => {
      const event = { ...decisions, id: uuid(), studentId, at: new Date().toISOString() } as StudentEvent
      return call(api.tellOfStudent, { params: { studentId }, body: event })
    },
    onSuccess: (decisions, { kind }) => {
      queryClient.setQueryData<StudentRecord>(recordQuery(studentId).queryKey, (now) => now && { ...now, decisions })
      if (kind !== 'level-set') return
      void queryClient.invalidateQueries({ queryKey: recordQuery(studentId).queryKey })
      return queryClient.invalidateQueries({ queryKey: studentsQuery.queryKey })
    },
  })
  return { tell: tell.mutate, error: tell.error }
}
export type Tell = ReturnType<typeof useTell>['tell']
