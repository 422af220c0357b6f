import { describe, expect, it } from 'vitest'
import { demoPlan } from '../../fixtures/load.ts'
import { markOf } from '../marks/mark.ts'
import { stationAtTime } from '../plan/lap-time.ts'
import { phraseBooks } from './books/index.ts'
import { callSheet, inCarTiming, intensityCaps, radioTiming, type SpokenCue } from './call-sheet.ts'
import { type CallKind, spokenForms } from './phrases.ts'
import { planCalls, tooFastToSpeak, unspeakableForms } from './plan-calls.ts'

const [plain, brisk, ruhig] = phraseBooks
const unknown = {
  gear: null,
  shifts: null,
  side: null,
  reference: null,
  where: null,
  over: null,
  outside: null,
  inside: null,
  after: null,
  next: null,
}
const mark = (kind: CallKind, time_s: number, cornerId = 'T1'): SpokenCue => ({
  kind,
  cornerId,
  time_s,
  station_m: 40 * time_s,
  forms: spokenForms(plain, kind, unknown),
})
const edits = (calls: Record<string, object>, silentCorners: string[] = []) => ({ edits: { calls, silentCorners } })

describe('call sheet', () => {
  it('lets every call end one reaction before its mark, none overlapping, also over the line', () => {
    const plan = demoPlan()
    const { calls } = planCalls(plan, plain, 'driven')
    expect(calls.length).toBeGreaterThan(25)
    const next = (i: number): number => (i + 1 < calls.length ? calls[i + 1].start_s : calls[0].start_s + plan.profile.lapTime_s)
    calls.forEach((call, i) => {
      expect(call.mark_s - call.end_s).toBeCloseTo(inCarTiming.reaction_s, 9)
      expect(next(i) - call.end_s).toBeGreaterThanOrEqual(inCarTiming.gap_s - 1e-9)
    })
  })

  it('says one thing a corner when guided, nothing when quiet, and lists what it left out with the reason', () => {
    const plan = demoPlan()
    const guided = planCalls(plan, plain, 'guided')
    for (const corner of plan.corners) expect(guided.calls.filter((c) => c.cornerId === corner.id).length).toBeLessThanOrEqual(1)
    expect(guided.dropped.some((d) => d.reason === 'corner-cap')).toBe(true)
    const quiet = planCalls(plan, plain, 'quiet')
    expect(quiet.calls).toEqual([])
    expect(quiet.dropped).toHaveLength(planCalls(plan, plain, 'driven').calls.length + planCalls(plan, plain, 'driven').dropped.length)
  })

  it('says another thing in a corner where the most important one finds no time (best of each corner would say nothing)', () => {
    // Two brakes at once; the second corner still has an exit that can be called.
    const marks = [mark('brake', 10, 'T1'), mark('brake', 10.1, 'T2'), mark('exit', 14, 'T2')]
    expect(callSheet(marks, 'guided').calls.map((c) => `${c.cornerId} ${c.kind}`)).toEqual(['T1 brake', 'T2 exit'])
  })

  it('keeps to the cap of a lap', () => {
    const many = Array.from({ length: 30 }, (_, i) => mark('brake', 5 + 6 * i, `T${i + 1}`))
    const { calls, dropped } = callSheet(many, 'guided')
    expect(calls).toHaveLength(intensityCaps.guided.perLap)
    expect(dropped.every((d) => d.reason === 'lap-cap')).toBe(true)
  })

  it('takes shorter forms where time is short, and drops the lesser call where there is none, naming the other', () => {
    const tight = callSheet([mark('brake', 10), mark('turn-in', 11)], 'driven')
    expect(tight.calls.map((c) => c.phrase)).toEqual(['brake firmly now', 'turn'])
    const none = callSheet([mark('brake', 10), mark('turn-in', 10.2)], 'driven')
    expect(none.calls.map((c) => c.kind)).toEqual(['brake'])
    expect(none.dropped).toEqual([
      { key: 'T1 turn-in', cornerId: 'T1', kind: 'turn-in', reason: 'no-time', against: { cornerId: 'T1', kind: 'brake' } },
    ])
  })

  it('starts earlier over a slow link', () => {
    const radio = callSheet([mark('brake', 10)], 'driven', { timing: radioTiming })
    expect(radio.calls[0].end_s).toBeCloseTo(10 - 0.8 - 0.3, 9)
  })

  it('says the call of two that this student needs more', () => {
    const marks = [mark('turn-in', 10), mark('exit', 10.2)]
    const said = (missed: string): string[] =>
      callSheet(marks, 'driven', { missRate: (_, kind) => (kind === missed ? 1 : 0) }).calls.map((c) => c.kind)
    expect(said('turn-in')).toEqual(['turn-in'])
    expect(said('exit')).toEqual(['exit'])
  })

  it('keeps a locked call, moves one that is dragged, and says nothing in a silent corner', () => {
    const marks = [mark('brake', 10), mark('turn-in', 10.2), mark('brake', 30, 'T2')]
    const locked = callSheet(marks, 'driven', edits({ 'T1 turn-in': { locked: true } }))
    expect(locked.calls.map((c) => `${c.cornerId} ${c.kind}`)).toEqual(['T1 turn-in', 'T2 brake'])
    const moved = callSheet(marks, 'driven', edits({ 'T2 brake': { earlier_s: 0.7 } }))
    expect(moved.calls.find((c) => c.cornerId === 'T2')?.end_s).toBeCloseTo(30 - 0.8 - 0.7, 9)
    const silent = callSheet(marks, 'driven', edits({ 'T1 brake': { silent: true } }, ['T2']))
    expect(silent.dropped.map((d) => d.reason)).toEqual(['silenced', 'silent-corner'])
  })

  it('fills in gear, side and reference, and leaves out forms for which there is none', () => {
    const plan = demoPlan()
    // Without gears to call there is time for the whole phrase.
    const { calls } = planCalls(plan, plain, 'driven', { lap: { kind: 'coached', gearbox: 'automatic' } })
    const turn = calls.find((c) => c.cornerId === 'T1' && c.kind === 'turn-in')
    expect(turn?.phrase).toBe('off the brake, and turn right')
    const trail = planCalls(demoPlan({ school: 'trail' }), plain, 'driven').calls.filter((c) => c.kind === 'turn-in')
    expect(trail.some((c) => c.phrase.includes('trail'))).toBe(true)
    expect(calls.every((c) => !/[{}]/.test(c.phrase))).toBe(true)
    const withSeam = {
      ...plan,
      ground: [
        ...plan.ground,
        ...plan.marks
          .filter((m) => m.kind === 'brake')
          .map((m) => ({
            id: m.cornerId,
            kind: 'reference' as const,
            name: 'seam',
            side: 'both' as const,
            from_m: m.station_m,
            to_m: m.station_m,
          })),
      ],
    }
    const german = planCalls(withSeam, ruhig, 'driven').calls.filter((c) => c.kind === 'brake')
    expect(german.some((c) => /^bei seam kräftig bremsen, (erster|zweiter|dritter|vierter|fünfter) Gang$/.test(c.phrase))).toBe(true)
  })

  it('has less to say the faster the lap', () => {
    const said = (pace: number): number =>
      planCalls(demoPlan({ pace }), brisk, 'driven').calls.reduce((sum, c) => sum + c.phrase.split(' ').length, 0)
    const words = [0.45, 0.6, 0.75, 0.85].map(said)
    words.slice(1).forEach((count, k) => {
      // Where a long phrase no longer fits, two short ones may.
      expect(count).toBeLessThan(1.02 * words[k])
    })
  })
})

describe('speech on the lap', () => {
  it('marks stretches driven too fast to speak, each ending at a mark that found no time', () => {
    const plan = demoPlan({ pace: 0.85 })
    const sheet = planCalls(plan, plain, 'driven')
    const stretches = tooFastToSpeak(plan, sheet)
    const lost = sheet.dropped.filter((d) => d.reason === 'no-time')
    expect(lost.length).toBeGreaterThan(0)
    for (const { cornerId, kind } of lost) {
      const own = markOf(plan.marks, cornerId, kind as 'brake')
      // What is called between the marks has no stretch of its own.
      if (!own) continue
      expect(stretches.some((s) => s.from_s <= (own?.time_s ?? 0) && s.to_s >= (own?.time_s ?? 0))).toBe(true)
    }
  })

  it('finds the station of a time, also before the line and after the lap', () => {
    const plan = demoPlan()
    const { circuit, profile } = plan
    for (const i of [0, 200, 900]) expect(stationAtTime(plan, profile.time_s[i])).toBeCloseTo(circuit.s_m[i], 6)
    expect(stationAtTime(plan, -1)).toBeCloseTo(stationAtTime(plan, profile.lapTime_s - 1), 6)
  })

  it('says which forms no gap of this lap could ever hold', () => {
    const plan = demoPlan()
    expect(unspeakableForms(plan, plain)).toEqual([])
    const wordy = { ...plain, phrases: { ...plain.phrases, brake: [Array(60).fill('now').join(' '), 'brake now', 'brake'] as const } }
    expect(unspeakableForms(plan, wordy).map((u) => `${u.kind} ${u.form}`)).toEqual(['brake 0'])
    expect(planCalls(plan, wordy, 'driven').calls.some((c) => c.kind === 'brake' && c.phrase !== 'brake')).toBe(true)
  })
})
