import type { Run, Sheet, SheetItem } from '@ochote/contract'
import {
  adviceText,
  bestLapTime,
  countedLaps,
  evidenceText,
  type MistakeCode,
  nextFocus,
  padStandings,
  praiseText,
  type ReaderWords,
  type RunEvent,
  readerWords,
  runStateOf,
  sectionsOfStudent,
  standing,
  studentStateOf,
  withCountedLaps,
} from '@ochote/core'
import { notFound } from '../http/problems.ts'
import type { Jobs } from '../jobs/jobs.ts'
import type { SheetOutput } from '../jobs/tasks.ts'
import type { Stores } from '../stores.ts'
import { storedPlanOf } from './service.ts'

/** Maximum number of pictures on a student's sheet. */
const MAX_PICTURES = 2
/** Maximum number of findings on a student's sheet. */
const MAX_FINDINGS = 3
/** Maximum number of runs that the trend covers. */
const TREND_RUNS = 6

/** Best lap and mistakes per lap of a student's last runs on this circuit, up to this one. */
const trendOf = async ({ runs, debriefs }: Stores, run: Run): Promise<Sheet['trend']> => {
  const upToHere = (await runs.list({ studentId: run.studentId, counting: true })).filter(
    (other) => other.hasLog && other.settings.circuitId === run.settings.circuitId && other.startedAt <= run.startedAt,
  )
  const last = upToHere.sort((a, b) => a.startedAt.localeCompare(b.startedAt)).slice(-TREND_RUNS)
  const ids = last.map(({ id }) => id)
  const reviewed = await debriefs.byRuns(ids)
  const events = await runs.eventsOf(ids)
  return last.map(({ id, date }) => {
    const whole = reviewed.get(id)
    const debrief = whole && withCountedLaps(whole, events.get(id) ?? [])
    const laps = debrief?.laps.length ?? 0
    return {
      date,
      best_s: bestLapTime(debrief?.laps ?? []),
      perLap: debrief && laps > 0 ? debrief.findings.filter((f) => f.root).length / laps : null,
    }
  })
}

/** Mistakes that the log shows, as items of the sheet. */
const itemsOfLog = (advice: SheetOutput['items'], words: ReaderWords): SheetItem[] =>
  advice.map((item) => ({
    cornerId: item.cornerId,
    cornerName: item.cornerName,
    name: words.mistakes[item.code].name,
    lap: item.laps[0] ?? 0,
    laps: item.laps.length,
    of: item.passes,
    ...adviceText(item, words),
    // How much is allowed is for the debrief.
    shows: evidenceText(item, 'short', words),
    drawing: item.drawing,
  }))

/** Mistakes logged by hand, most urgent first, as items of the sheet. */
const itemsByHand = (
  events: readonly RunEvent[],
  laps: number | null,
  nameOf: (cornerId: string) => string,
  words: ReaderWords,
): SheetItem[] => {
  const seen = runStateOf(events).observations.filter(countedLaps(events).counts)
  return nextFocus(seen.map(({ cornerId, code }) => ({ cornerId, code, run: 1, by: 'hand' }))).map(({ cornerId, code, tally }) => ({
    cornerId,
    cornerName: nameOf(cornerId),
    name: words.mistakes[code].name,
    lap: 0,
    laps: tally.count,
    of: laps ?? tally.count,
    say: words.mistakes[code].correction,
    cue: '',
    next: '',
    shows: '',
    drawing: null,
  }))
}

/** The first thing to do in the next run: the focus that was set, else the first item in a corner that the group works on, else the first. */
const nextOf = (
  focus: { cornerId: string; code: MistakeCode } | null,
  items: readonly SheetItem[],
  sections: readonly string[],
  nameOf: (cornerId: string) => string,
  words: ReaderWords,
): Sheet['next'] => {
  if (focus) return { cornerName: nameOf(focus.cornerId), say: words.mistakes[focus.code].correction }
  const first = items.find((item) => sections.includes(item.cornerId)) ?? items[0]
  return first ? { cornerName: first.cornerName, say: first.next || first.say } : null
}

/** Pictures that go on a sheet: the newest of those that were kept with a word. */
const picturesOf = async ({ debriefs }: Stores, runId: string, events: readonly RunEvent[]): Promise<Sheet['pictures']> => {
  const kept = standing(events).flatMap((e) => (e.kind === 'note' && e.pictureId ? [{ text: e.text, pictureId: e.pictureId }] : []))
  const read = await Promise.all(
    kept.slice(-MAX_PICTURES).map(async ({ text, pictureId }) => ({ text, jpeg: await debriefs.picture(runId, pictureId) })),
  )
  return read.flatMap(({ text, jpeg }) => (jpeg ? [{ text, jpeg: jpeg.toString('base64') }] : []))
}

/**
 * A student's sheet of one run, made from what is stored: nothing on it is kept, so that it is never older than the record.
 * @throws HttpProblem 404 where run, student, circuit or vehicle are gone
 */
export const sheetOf = async (stores: Stores, jobs: Jobs, runId: string): Promise<Sheet> => {
  const { circuits, vehicles, students, runs, debriefs, days } = stores
  const run = await runs.byId(runId)
  const student = run && (await students.byId(run.studentId))
  if (!run || !student) throw notFound('run')
  const stored = await storedPlanOf(run, circuits, vehicles)
  const events = await runs.events(run.id)
  const whole = await debriefs.byRun(run.id)
  const debrief = whole && withCountedLaps(whole, events)
  const offsetsOf = async (lap: number): Promise<number[]> => (await debriefs.trace(run.id, lap))?.offset_m ?? []
  const laps = await Promise.all((debrief?.laps ?? []).map(async ({ lap }) => ({ lap, offset_m: await offsetsOf(lap) })))
  const made = debrief ? await jobs.sheet({ ...stored, debrief, laps }) : { held: [], items: [] }
  const language = student.profile.language ?? 'en'
  const words = readerWords(language, student.units)
  const cornerNames: Record<string, string> = stored.circuit.notes.cornerNames
  const nameOf = (cornerId: string): string => cornerNames[cornerId] ?? cornerId
  const fromLog = itemsOfLog(made.items, words)
  const byHand = itemsByHand(events, debrief?.laps.length ?? null, nameOf, words)
  const items = [...fromLog, ...byHand.filter(({ cornerId }) => !fromLog.some((item) => item.cornerId === cornerId))].slice(0, MAX_FINDINGS)
  const { focus } = studentStateOf((await students.decisions(student.id)).map((decision) => decision.event))
  const day = await days.byId(run.dayId)
  return {
    studentName: student.name,
    language,
    date: run.date,
    circuitName: (await circuits.byId(run.settings.circuitId))?.name ?? '',
    vehicleName: stored.vehicle.name,
    simulated: run.simulation !== null || debrief?.source === 'simulated logger',
    laps: debrief?.laps.length ?? 0,
    best_s: bestLapTime(debrief?.laps ?? []),
    held: made.held.map((praise) => ({ cornerName: praise.cornerName, say: praiseText(praise, words) })),
    items,
    cautions: (await stores.schoolSettings.read()).schoolSettings.cautions,
    next: nextOf(focus, items, sectionsOfStudent(student.id, day?.plan.groups ?? []), nameOf, words),
    trend: await trendOf(stores, run),
    pictures: await picturesOf(stores, run.id, events),
    pad: padStandings((await stores.dayEvents.padOf(student.id)).filter((attempt) => attempt.date === run.date)),
  }
}
