import type { Run, Sheet, SheetItem } from '@ochote/contract'
import {
  adviceText,
  bestLapTime,
  evidenceText,
  isOwnLap,
  nextFocus,
  praiseText,
  readerWords,
  runStateOf,
  studentStateOf,
  withOwnLaps,
} from '@ochote/core'
import { notFound } from '../http/problems.ts'
import type { Jobs } from '../jobs/jobs.ts'
import type { Stores } from '../stores.ts'
import { storedPlanOf } from './service.ts'

/** So many things a student takes home. */
const MAX_FINDINGS = 3
/** Runs over which the trend goes. */
const TREND = 6

/** Makes students' sheets from what is stored: nothing on them is kept, so that they are never older than the record. */
export const sheetService = (stores: Stores, jobs: Jobs) => {
  const { circuits, vehicles, students, runs, debriefs } = stores

  const trendOf = async (run: Run): Promise<Sheet['trend']> => {
    const all = (await runs.list({ studentId: run.studentId })).filter(
      (one) => one.hasLog && one.settings.circuitId === run.settings.circuitId && one.startedAt <= run.startedAt,
    )
    const last = all.sort((a, b) => a.startedAt.localeCompare(b.startedAt)).slice(-TREND)
    const best = await debriefs.bestLaps(last.map((one) => one.id))
    return Promise.all(
      last.map(async (one) => {
        const debrief = await debriefs.byRun(one.id)
        const laps = debrief?.laps.length ?? 0
        return {
          date: one.date,
          best_s: best.get(one.id) ?? null,
          perLap: debrief && laps > 0 ? debrief.findings.filter((f) => f.root).length / laps : null,
        }
      }),
    )
  }

  return {
    /** @throws HttpProblem 404 where run, student, circuit or vehicle are gone */
    of: async (runId: string): Promise<Sheet> => {
      const run = await runs.byId(runId)
      const student = run && (await students.byId(run.studentId))
      if (!run || !student) throw notFound('run')
      const stored = await storedPlanOf(run, circuits, vehicles)
      const events = await runs.events(run.id)
      const whole = await debriefs.byRun(run.id)
      const debrief = whole && withOwnLaps(whole, events)
      const cornerNames: Record<string, string> = stored.circuit.notes.cornerNames
      const laps = debrief
        ? await Promise.all(debrief.laps.map(async ({ lap }) => ({ lap, offset_m: (await debriefs.trace(run.id, lap))?.offset_m ?? [] })))
        : []
      const made = debrief ? await jobs.sheet({ ...stored, debrief, laps }) : { held: [], items: [] }
      const { language } = student.profile
      const words = readerWords(language ?? 'en', student.units)
      const fromLog = made.items.map(
        (a): SheetItem => ({
          cornerId: a.cornerId,
          cornerName: a.cornerName,
          name: words.mistakes[a.code].name,
          lap: a.laps[0] ?? 0,
          laps: a.laps.length,
          of: a.passes,
          ...adviceText(a, words),
          // How much is allowed is for the debrief.
          shows: evidenceText(a, 'short', words),
          drawing: a.drawing,
        }),
      )
      const byHand = nextFocus(
        runStateOf(events)
          .observations.filter(isOwnLap(events))
          .map((o) => ({ cornerId: o.cornerId, code: o.code, run: 1, by: 'hand' as const })),
      )
        .filter((f) => !fromLog.some((one) => one.cornerId === f.cornerId))
        .map(
          (f): SheetItem => ({
            cornerId: f.cornerId,
            cornerName: cornerNames[f.cornerId] ?? f.cornerId,
            name: words.mistakes[f.code].name,
            lap: 0,
            laps: f.tally.count,
            of: debrief?.laps.length ?? f.tally.count,
            say: words.mistakes[f.code].correction,
            cue: '',
            next: '',
            shows: '',
            drawing: null,
          }),
        )
      const items = [...fromLog, ...byHand].slice(0, MAX_FINDINGS)
      const { focus } = studentStateOf((await students.decisions(student.id)).map((t) => t.event))
      return {
        studentName: student.name,
        language: language ?? 'en',
        date: run.date,
        circuitName: (await circuits.byId(run.settings.circuitId))?.name ?? '',
        vehicleName: stored.vehicle.name,
        simulated: run.simulation !== null || debrief?.source === 'simulated logger',
        laps: debrief?.laps.length ?? 0,
        best_s: bestLapTime(debrief?.laps ?? []),
        held: made.held.map((h) => ({ cornerName: h.cornerName, say: praiseText(h, words) })),
        items,
        next: focus
          ? { cornerName: cornerNames[focus.cornerId] ?? focus.cornerId, say: words.mistakes[focus.code].correction }
          : items[0]
            ? { cornerName: items[0].cornerName, say: items[0].next || items[0].say }
            : null,
        trend: await trendOf(run),
      }
    },
  }
}
export type SheetService = ReturnType<typeof sheetService>
