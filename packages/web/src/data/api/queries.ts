import { api, type StoredCircuit } from '@ochote/contract'
import type { Vehicle } from '@ochote/core'
import { QueryClient, queryOptions } from '@tanstack/react-query'
import { ApiProblem, call } from './api-client.ts'
import { readCircuit, readDay, readSettings } from './as-on-server.ts'

/** One cache for all answers; problems that a retry cannot cure are shown at once. */
export const queryClient = new QueryClient({
  defaultOptions: {
    queries: {
      staleTime: 30_000,
      retry: (count, error) => error instanceof ApiProblem && (error.problem.status === 0 || error.problem.status >= 500) && count < 2,
    },
  },
})

export const sessionQuery = queryOptions({ queryKey: ['session'], queryFn: () => call(api.session) })
/** Asked now and then by every screen, so that a full disk is known everywhere. */
export const serverStateQuery = queryOptions({
  queryKey: ['server-state'],
  queryFn: () => call(api.serverState),
  refetchInterval: 20_000,
  retry: false,
})
export const serverHealthQuery = queryOptions({ queryKey: ['server-health'], queryFn: () => call(api.serverHealth) })
export const backupsQuery = queryOptions({ queryKey: ['backups'], queryFn: () => call(api.backups) })
export const ownSessionsQuery = queryOptions({ queryKey: ['own-sessions'], queryFn: () => call(api.ownSessions) })
export const pairingsQuery = (dayId: string) =>
  queryOptions({
    queryKey: ['pairings', dayId],
    queryFn: () => call(api.pairings, { params: { dayId } }),
    refetchInterval: 5000,
  })
export const networkQuery = queryOptions({ queryKey: ['network'], queryFn: () => call(api.network) })
export const accountsQuery = queryOptions({ queryKey: ['accounts'], queryFn: () => call(api.accounts) })
export const circuitsQuery = queryOptions({ queryKey: ['circuits'], queryFn: () => call(api.circuits) })
export const circuitQuery = (circuitId: string) =>
  queryOptions({
    queryKey: ['circuits', circuitId],
    queryFn: () => readCircuit(circuitId),
    staleTime: Number.POSITIVE_INFINITY,
  })
export const vehiclesQuery = queryOptions({ queryKey: ['vehicles'], queryFn: () => call(api.vehicles) })
export const carsQuery = queryOptions({ queryKey: ['cars'], queryFn: () => call(api.cars) })
export const carHistoryQuery = (carId: string) =>
  queryOptions({ queryKey: ['cars', carId, 'history'], queryFn: () => call(api.carHistory, { params: { carId } }) })
export const venuesQuery = queryOptions({ queryKey: ['venues'], queryFn: () => call(api.venues) })
export const studentsQuery = queryOptions({ queryKey: ['students'], queryFn: () => call(api.students) })
export const studentLinesQuery = queryOptions({ queryKey: ['students', 'lines'], queryFn: () => call(api.studentLines) })
export const recordQuery = (studentId: string) =>
  queryOptions({ queryKey: ['students', studentId, 'record'], queryFn: () => call(api.record, { params: { studentId } }) })
export const daysQuery = queryOptions({ queryKey: ['days'], queryFn: () => call(api.days) })
export const dayQuery = (dayId: string) => queryOptions({ queryKey: ['days', dayId], queryFn: () => readDay(dayId) })
export const runsQuery = (filter: { dayId?: string; studentId?: string }) =>
  queryOptions({ queryKey: ['runs', filter], queryFn: () => call(api.runs, { query: filter }) })
export const runQuery = (runId: string) =>
  queryOptions({ queryKey: ['runs', 'one', runId], queryFn: () => call(api.run, { params: { runId } }) })
export const runEventsQuery = (runId: string) =>
  queryOptions({ queryKey: ['runs', 'one', runId, 'events'], queryFn: () => call(api.runEvents, { params: { runId } }) })
export const debriefQuery = (runId: string) =>
  queryOptions({ queryKey: ['runs', 'one', runId, 'debrief'], queryFn: () => call(api.debrief, { params: { runId } }), retry: false })
export const debriefLinesQuery = queryOptions({ queryKey: ['debriefs'], queryFn: () => call(api.debriefLines) })
/** How far the logs are that are judged anew, asked again while there are any. */
export const judgingAnewQuery = queryOptions({
  queryKey: ['judging-anew'],
  queryFn: () => call(api.judgingAnew),
  refetchInterval: ({ state }) => (state.data && state.data.done < state.data.total ? 2000 : false),
})
export const traceQuery = (runId: string, lap: number) =>
  queryOptions({
    queryKey: ['runs', 'one', runId, 'laps', lap],
    queryFn: () => call(api.trace, { params: { runId, lap } }),
    staleTime: Number.POSITIVE_INFINITY,
  })
export const referencesQuery = (runId: string) =>
  queryOptions({ queryKey: ['runs', 'one', runId, 'references'], queryFn: () => call(api.references, { params: { runId } }) })
export const groupQuery = (dayId: string) =>
  queryOptions({ queryKey: ['days', dayId, 'group'], queryFn: () => call(api.group, { params: { dayId } }), staleTime: 0 })
export const sheetLinkQuery = (runId: string) =>
  queryOptions({ queryKey: ['runs', 'one', runId, 'sheet-link'], queryFn: () => call(api.sheetLink, { params: { runId } }) })
export const runSheetQuery = (runId: string) =>
  queryOptions({ queryKey: ['runs', 'one', runId, 'sheet'], queryFn: () => call(api.runSheet, { params: { runId } }) })
export const sheetQuery = (token: string) =>
  queryOptions({ queryKey: ['sheets', token], queryFn: () => call(api.sheet, { params: { token } }), retry: false })
export const schoolSettingsQuery = queryOptions({ queryKey: ['school-settings'], queryFn: readSettings })
export const questionsQuery = (circuitId: string) =>
  queryOptions({ queryKey: ['circuits', circuitId, 'questions'], queryFn: () => call(api.questions, { params: { circuitId } }) })
export const dayEventsQuery = (dayId: string) =>
  queryOptions({ queryKey: ['days', dayId, 'events'], queryFn: () => call(api.dayEvents, { params: { dayId } }) })
export const boardLinkQuery = (dayId: string, key: string) =>
  queryOptions({ queryKey: ['links', 'board', dayId, key], queryFn: () => call(api.boardLink, { params: { dayId } }) })
export const linksQuery = (dayId: string) =>
  queryOptions({ queryKey: ['days', dayId, 'links'], queryFn: () => call(api.links, { params: { dayId } }) })
export const portalQuery = (token: string) =>
  queryOptions({ queryKey: ['portal', token], queryFn: () => call(api.portal, { params: { token } }), retry: false })
/** A client for what a link opens: circuit and vehicle are here already, and nothing is asked of calls that need a sign-in. */
export const clientOfLink = ({ circuit, vehicle }: { circuit: StoredCircuit; vehicle: Vehicle }): QueryClient => {
  const client = new QueryClient({ defaultOptions: { queries: { staleTime: Number.POSITIVE_INFINITY, retry: false } } })
  client.setQueryData(circuitQuery(circuit.id).queryKey, circuit)
  client.setQueryData(vehiclesQuery.queryKey, [{ ...vehicle, version: 1 }])
  return client
}
export const portalRecallQuery = (token: string) =>
  queryOptions({
    queryKey: ['portal', token, 'recall'],
    queryFn: () => call(api.portalRecall, { params: { token } }),
    retry: false,
  })
export const portalRunQuery = (token: string, runId: string) =>
  queryOptions({
    queryKey: ['portal', token, 'drives', runId],
    queryFn: () => call(api.portalDrive, { params: { token, runId } }),
    retry: false,
  })
export const carConditionsQuery = (dayId: string) =>
  queryOptions({ queryKey: ['runs', 'cars', dayId], queryFn: () => call(api.carConditions, { params: { dayId } }) })
export const historyQuery = (dayId: string) =>
  queryOptions({ queryKey: ['days', dayId, 'history'], queryFn: () => call(api.history, { params: { dayId } }) })
export const receiversQuery = queryOptions({ queryKey: ['receivers'], queryFn: () => call(api.receivers) })
export const devicesQuery = queryOptions({ queryKey: ['devices'], queryFn: () => call(api.devices) })
