import { dayPlanSchema } from '@ochote/contract'
import {
  checkSetup,
  type DaySetup,
  lineId,
  type PlannedSession,
  sessionKey,
  solveDay,
  usualFormats,
  usualPlanning,
  usualRules,
} from '@ochote/core'
import { describe, expect, it } from 'vitest'
import { pageMarkup, pageWords, schoolAnswers } from '../page-harness.test-data.tsx'
import { Announce, withAnnounced } from './announce.tsx'
import { boardRows, droppedOn, shownRows } from './board-rows.ts'
import { linesNow } from './day-wall.tsx'
import { PlanExceptions } from './plan-exceptions.tsx'
import { FaultAt, FaultsAtFields } from './plan-faults.tsx'
import { Fits } from './plan-fits.tsx'
import { drivenSessions, movedOn } from './plan-in-use.tsx'
import { PlanInputs } from './plan-inputs.tsx'
import { PlanDifferences, Proposal } from './plan-proposal.tsx'
import { easeInWords, reliefInWords } from './plan-words.ts'
import { PlansBeside } from './plans-beside.tsx'
import { EditJudged, SessionEditor } from './session-editor.tsx'
import { swappedWithNext } from './swap-with-next.ts'
import { withPlan } from './with-plan.ts'

const people = ['Imke Valderan', 'Rashid Okonwe', 'Pia Lindqvaern', 'Tomas Wrenfield']
const names = {
  student: (id: string) => people[Number(id.slice(1))] ?? id,
  instructor: (id: string) => ({ i0: 'Teo Karvonen-Pike', i1: 'Dunstan Ilves' })[id] ?? id,
  car: (id: string) => ({ c0: '4', c1: '7' })[id] ?? id,
}
const nothing = (): void => {}
const setup: DaySetup = {
  date: '2027-05-15',
  from: '09:00',
  to: '13:00',
  step_min: 5,
  students: people.map((_, k) => ({ id: `s${k}`, groupId: 'all' })),
  instructors: ['i0', 'i1'].map((id) => ({ id, groupIds: [], carIds: [], languages: [], breaks: [] })),
  cars: ['c0', 'c1'].map((id) => ({ id, groupIds: [], studentIds: [], cooling_min: 10, fuel_laps: null, refuel_min: 15, out: [] })),
  groups: [{ id: 'all', name: '', lap_s: 120, wants: { briefing: 1, 'ride-along': 1 }, order: [] }],
  formats: [
    { id: 'briefing', ...usualFormats.briefing, at: '09:00' },
    { id: 'ride-along', ...usualFormats['ride-along'] },
  ],
  windows: [
    { place: 'track', from: '09:30', to: '13:00' },
    { place: 'classroom', from: '09:00', to: '13:00' },
  ],
  pairs: [],
  rain: [{ from: '11:00', to: '11:30' }],
  rules: { ...usualRules, lunch: null },
  kept: [],
  announced: [],
  now: null,
}
const plan = solveDay(setup, { steps: 4000 })
const search = {
  plan,
  freely: null,
  bound: { cost: plan.cost / 2, rounds: 9 },
  seated: true,
  clash: null,
  reliefs: [],
  searching: false,
  error: null,
}

describe('the board of a plan', () => {
  it('has a row for each instructor, car and student, with what they do', () => {
    const rows = (view: Parameters<typeof boardRows>[2]) => boardRows(setup, plan.sessions, view, names)
    expect(rows('students').map((r) => [r.name, r.bars.length])).toEqual(people.map((name) => [name, 2]))
    expect(rows('instructors').map((r) => r.name)).toEqual(['Teo Karvonen-Pike', 'Dunstan Ilves'])
    expect(rows('cars').flatMap((r) => r.bars)).toHaveLength(4)
    expect(rows('cars').map((r) => r.name)).toEqual(['Car 4', 'Car 7'])
    // Four rides and the briefing, at their places; the pad has nothing and no row.
    expect(rows('places').map((r) => [r.name, r.bars.length])).toEqual([
      ['Track', 4],
      ['Classroom', 1],
    ])
    expect(rows('places')[1].bars[0]).toMatchObject({ from: 540, to: 570, text: '4 students' })
  })

  it('puts what happens at one time into lanes of their own', () => {
    const [track] = boardRows(setup, plan.sessions, 'places', names)
    for (const a of track.bars)
      for (const b of track.bars) if (a !== b && a.lane === b.lane) expect(a.to <= b.from || b.to <= a.from).toBe(true)
    expect(track.lanes).toBe(Math.max(...track.bars.map((b) => b.lane)) + 1)
  })
})

describe('what is dropped on the board', () => {
  const [one, other] = plan.sessions.filter((s) => s.formatId === 'ride-along')
  const briefing = plan.sessions.find((s) => s.formatId === 'briefing') ?? one
  const row = (id: string) => ({ id, name: '', bars: [], lanes: 1 })

  it('changes places with another of its kind, goes to a row’s instructor or car, or moves in time', () => {
    expect(droppedOn(one, { session: other }, 'places')).toEqual({ kind: 'exchange', with: other })
    expect(droppedOn(one, { session: briefing, row: row('track') }, 'places')).toEqual({ kind: 'move' })
    expect(droppedOn(one, { row: row('i9') }, 'instructors')).toEqual({ kind: 'give', instructorId: 'i9' })
    expect(droppedOn(one, { row: row(one.instructorId ?? '') }, 'instructors')).toEqual({ kind: 'move' })
    expect(droppedOn(one, { row: row('c9') }, 'cars')).toEqual({ kind: 'car', carId: 'c9' })
    expect(droppedOn(one, { row: row('s9') }, 'students')).toEqual({ kind: 'move' })
    expect(droppedOn(one, null, 'cars')).toEqual({ kind: 'move' })
  })

  it('is found by name, under the groups of a day that has several', () => {
    const groups = ['a', 'b'].map((id) => ({ ...setup.groups[0], id, name: `Group ${id}` }))
    const grouped = { ...setup, groups, students: setup.students.map((s, k) => ({ ...s, groupId: k < 3 ? 'a' : 'b' })) }
    const rows = boardRows(grouped, plan.sessions, 'students', names)
    const shown = (find: string, folded: string[]) => shownRows(rows, groups, find, new Set(folded)).map((r) => r.name)
    expect(shown('', [])).toEqual(['Group a', ...people.slice(0, 3), 'Group b', people[3]])
    expect(shown('', ['a'])).toEqual(['Group a', 'Group b', people[3]])
    expect(shown('wrenfield', [])).toEqual(['Group b', 'Tomas Wrenfield'])
    expect(shownRows(rows, setup.groups, '', new Set()).map((r) => r.name)).toEqual(people)
  })

  it('exchanges a session with the next one of others', () => {
    const first = plan.sessions.find((s) => s.formatId === 'ride-along') ?? one
    const swapped = swappedWithNext(plan.sessions, first) ?? []
    const now = swapped.find((s) => s.start === first.start && s.instructorId === first.instructorId && s.formatId === first.formatId)
    expect(now?.seats[0].studentId).not.toBe(first.seats[0].studentId)
    expect(swappedWithNext(plan.sessions, briefing)).toBeNull()
  })
})

describe('what was driven', () => {
  it('is marked on the board: begun, and done once everybody in it has ended', () => {
    const [one, other] = plan.sessions.filter((s) => s.formatId === 'ride-along')
    const run = (session: typeof one, endedAt: string | null) => ({ slotId: lineId(session, session.seats[0].studentId), endedAt })
    const marks = (...runs: ReturnType<typeof run>[]) => [...drivenSessions(plan.sessions, runs)]
    expect(marks()).toEqual([])
    expect(marks(run(one, null), run(other, '2027-05-15T10:00:00Z'))).toEqual([
      [sessionKey(one), 'running'],
      [sessionKey(other), 'done'],
    ])
  })
})

describe('what was announced', () => {
  const day = dayPlanSchema.parse({
    date: '2027-05-15',
    title: 'A day',
    venue: '',
    weather: '',
    rules: [],
    flags: [],
    settings: { circuitId: 'c', vehicleId: 'v', surface: 'dry', pace: 0.6, school: 'straight', method: 'smoothest', schemeId: 'x' },
    studentIds: ['s0', 's1'],
    instructorIds: [],
    cars: [],
    slots: [{ id: 'a', start: '10:00', end: '10:20', kind: 'run', title: 'Ride-along', studentId: 's0' }],
    checkOff: [],
  })
  const told = (of: typeof day): string => pageWords(schoolAnswers(), <Announce plan={of} nameOf={names.student} onChange={nothing} />)

  it('is told with whose times differ from it now', () => {
    expect(told(day)).toContain('Nothing is announced yet')
    expect(told({ ...day, slots: [] })).toBe('')
    const announced = withAnnounced(day, '2027-05-15T08:42:00.000Z')
    expect(told(announced)).toContain('nothing has changed since')
    const moved = { ...announced, slots: announced.slots.map((s) => ({ ...s, start: '11:00', end: '11:20' })) }
    expect(told(moved)).toMatch(/Proposed, not announced: other times than at \d\d:\d\d for Imke Valderan\./)
    const again = withAnnounced(moved, '2027-05-15T09:00:00.000Z')
    expect(again.announced).toMatchObject({ slots: moved.slots, before: announced.slots })
  })
})

describe('plans side by side', () => {
  it('are compared by what they give', () => {
    const kept = [
      { name: 'A', plan, emphasis: 'rules' as const },
      { name: 'B', plan: { ...plan, leftOut: [{ studentId: 's0', formatId: 'ride-along', missing: 1 }] }, emphasis: 'waiting' as const },
    ]
    const words = pageWords(schoolAnswers(), <PlansBeside setup={setup} kept={kept} onUse={nothing} onForget={nothing} />)
    expect(words).toContain('Plan A: as the rules say')
    expect(words).toContain('Plan B: less waiting')
    expect(words).toMatch(/Left out ?0 ?1/)
    // One ride of 20 minutes at two minutes a lap.
    expect(words).toMatch(/Laps a student ?10 ?10/)
    const later = { ...plan, sessions: plan.sessions.map((s) => (s.seats[0].studentId === 's1' ? { ...s, start: '12:00' } : s)) }
    const changes = pageWords(schoolAnswers(), <PlanDifferences used={plan.sessions} plan={later} names={names} />)
    expect(changes).toContain('Rashid Okonwe:')
    expect(pageWords(schoolAnswers(), <PlanDifferences used={plan.sessions} plan={plan} names={names} />)).toBe('')
  })
})

describe('what a day gives', () => {
  const planning = usualPlanning()
  it('is told by format and group, with fields for how often', () => {
    const groups = [
      { id: 'a', name: 'First' },
      { id: 'b', name: 'Quick' },
    ]
    const markup = pageMarkup(schoolAnswers(), <PlanInputs planning={planning} cars={[]} groups={groups} onChange={nothing} />)
    expect(markup).toContain('aria-label="Ride-along, times each in First"')
    expect(markup).toContain('aria-label="Minutes of Briefing"')
    expect(markup).toContain('aria-label="Take Ride-along out"')
    const words = pageWords(schoolAnswers(), <PlanInputs planning={planning} cars={[]} groups={groups.slice(0, 1)} onChange={nothing} />)
    expect(words).toContain('1, beside an instructor')
    expect(words).toContain('choose what else is done')
  })

  it('differs where somebody said so, each with a way back', () => {
    const differing = {
      ...planning,
      people: { s0: { arrives: '10:30', leaves: '15:00' } },
      cars: { c0: { cooling_min: 10, fuel_laps: null, refuel_min: 15, out: [{ from: '11:00', to: '17:00' }] } },
      staff: { i0: { from: '09:30', to: '13:00', breaks: [{ from: '10:30', to: '10:45' }] } },
      closed: [{ from: '14:00', to: '14:30' }],
      rain: [{ from: '14:10', to: '14:50' }],
    }
    const who = (ids: readonly string[], name: (id: string) => string) => ids.map((id) => [id, name(id)] as const)
    const lists = { students: who(['s0'], names.student), instructors: who(['i0'], names.instructor), cars: who(['c0'], names.car) }
    const words = pageWords(schoolAnswers(), <PlanExceptions planning={differing} {...lists} now={null} onChange={nothing} />)
    for (const line of [
      'Imke Valderan comes at 10:30',
      'Imke Valderan leaves at 15:00',
      'Car 4 is out from 11:00 to 17:00',
      'Teo Karvonen-Pike comes at 09:30',
      'Teo Karvonen-Pike leaves at 13:00',
      'Teo Karvonen-Pike has a break from 10:30 to 10:45',
      'The track is closed from 14:00 to 14:30',
      'Rain is due from 14:10 to 14:50',
    ])
      expect(words).toContain(line)
    expect(pageWords(schoolAnswers(), <PlanExceptions planning={planning} {...lists} now={null} onChange={nothing} />)).toContain(
      'Nothing: everybody',
    )
  })
})

describe('what is wrong with a day', () => {
  it('is told at its field, by name, and nowhere else', () => {
    const broken: DaySetup = {
      ...setup,
      students: setup.students.map((s) => (s.id === 's0' ? { ...s, arrives: '15:00', leaves: '10:30' } : s)),
      instructors: setup.instructors.map((i) => ({
        ...i,
        breaks: [
          { from: '10:30', to: '10:45' },
          { from: '10:40', to: '11:00' },
        ],
      })),
      windows: setup.windows.map((w) => (w.place === 'track' ? { ...w, from: '16:00', to: '09:00' } : w)),
    }
    const at = (field: string): string =>
      pageWords(
        schoolAnswers(),
        <FaultsAtFields setup={broken} wrong={checkSetup(broken)} names={names}>
          <FaultAt field={field} />
        </FaultsAtFields>,
      )
    expect(at('students s0')).toContain('From 15:00 to 10:30 is no time of this day')
    expect(at('instructors i0 1')).toContain('From 10:40 to 11:00 overlaps 10:30–10:45')
    expect(at('instructors i0 0')).toBe('')
    expect(at('windows track')).toContain('From 16:00 to 09:00 is no time of this day')
    expect(at('windows pad')).toBe('')
    expect(at('students s1')).toBe('')
  })
})

describe('how full a day is', () => {
  const fits = (change: Partial<DaySetup>): string =>
    pageWords(schoolAnswers(), <Fits setup={{ ...setup, ...change }} wrong={checkSetup({ ...setup, ...change })} names={names} />)
  it('is told by what is needed, and what is wrong by name', () => {
    expect(fits({})).toMatch(/Track \d+%.*Instructors \d+%|Instructors \d+%.*Track \d+%/)
    expect(fits({})).not.toContain('more than fits')
    const often = setup.groups.map((g) => ({ ...g, wants: { briefing: 1, 'ride-along': 9 } }))
    expect(fits({ groups: often })).toContain('This is more than fits, as a rule')
    expect(fits({ groups: often })).toMatch(/What would help most: .*\d+%/)
    expect(fits({ cars: setup.cars.map((c) => ({ ...c, studentIds: ['s1'] })) })).toContain(
      'There is no car that “Imke Valderan” may drive.',
    )
    expect(fits({ groups: setup.groups.map((g) => ({ ...g, wants: {} })) })).toContain('Nobody gets anything yet')
  })

  it('names what would ease it, and rules that could be given up', () => {
    expect(easeInWords({ kind: 'instructor', share: 0.876 }, String)).toBe('one more instructor: 88%')
    expect(reliefInWords({ kind: 'shorter-rides', minutes: 5, formatId: 'r' }, () => 'Ride-along')).toBe('Ride-along 5 minutes shorter')
    expect(reliefInWords('lunch', String)).toBe('without lunch')
  })
})

describe('a chosen session that was moved meanwhile', () => {
  it('is the one of the same people at the nearest time; of other people it is none', () => {
    const ride = plan.sessions.find((one) => one.formatId === 'ride-along')
    if (!ride) throw new Error('no ride')
    const at = (start: string): PlannedSession => ({ ...ride, start })
    const others = plan.sessions.filter((one) => one !== ride)
    expect(movedOn([...others, at('11:40'), at('10:05')], at('10:00'))?.start).toBe('10:05')
    expect(movedOn([...others, at('11:40')], at('10:00'))?.start).toBe('11:40')
    expect(
      movedOn(
        others.filter((one) => one.seats[0].studentId !== ride.seats[0].studentId),
        at('10:00'),
      ),
    ).toBeUndefined()
    expect(movedOn(plan.sessions, null)).toBeUndefined()
  })
})

describe('a plan that is offered', () => {
  const offered = (change: Partial<Parameters<typeof Proposal>[0]>): string =>
    pageWords(
      schoolAnswers(),
      <Proposal
        setup={setup}
        search={search}
        plan={plan}
        used={[]}
        names={names}
        now={null}
        onUse={nothing}
        onDrop={nothing}
        {...change}
      />,
    )
  it('says that everybody gets everything, and how good it is at least', () => {
    const words = offered({})
    expect(words).toContain('Everybody gets everything.')
    expect(words).toContain('Proven: no plan is better by more than 50%')
  })

  it('says who lacks what, and what is proven about it and what is not', () => {
    const less = { ...plan, leftOut: [{ studentId: 's2', formatId: 'ride-along', missing: 2 }] }
    const proven = { ...search, clash: { proven: true, leftOut: 1.2, rules: ['lunch' as const, 'car-number' as const] } }
    expect(offered({ plan: less, search: proven })).toContain('Left out: Pia Lindqvaern (Ride-along ×2).')
    expect(offered({ plan: less, search: proven })).toContain('Proven: at least 2 must be left out, because of lunch, the number of cars.')
    const unproven = { ...search, clash: { proven: false, leftOut: 0, rules: [] }, reliefs: [{ what: 'lunch' as const, leftOut: 0 }] }
    expect(offered({ plan: less, search: unproven })).toContain('nothing proves that there is none')
    expect(offered({ plan: less, search: unproven })).toContain('without lunch: 0 left out')
  })

  it('warns of a plan that the day has overtaken, and of no other', () => {
    expect(offered({})).not.toContain('has changed since')
    const carOut = { ...setup, cars: setup.cars.map((c) => ({ ...c, out: [{ from: setup.from, to: setup.to }] })) }
    expect(offered({ setup: carOut })).toMatch(/The day has changed since .*: is out of use then \(.*\)\. Plan it again\./)
  })

  it('says for whom it changes something', () => {
    const used: PlannedSession[] = plan.sessions.map((s) =>
      s.formatId === 'ride-along' && s.seats[0].studentId === 's1' ? { ...s, start: '12:30' } : s,
    )
    expect(offered({ used })).toContain('One person changes against the plan in use: Rashid Okonwe:')
    const freely = { ...plan, sessions: [], leftOut: [{ studentId: 's2', formatId: 'ride-along', missing: 2 }] }
    const both = offered({ used, search: { ...search, freely } })
    expect(both).toContain('Few changes: something else for 1, 0 left out')
    expect(both).toContain('Any changes: something else for 4, 2 left out')
  })
})

describe('a plan that is used', () => {
  it('makes the run list anew, and leaves breaks and every line that was driven', () => {
    const slot = (id: string, kind: 'run' | 'break') => ({ id, start: '10:00', end: '10:20', kind, title: 'By hand' })
    const older = dayPlanSchema.parse({
      ...{ date: '2027-05-15', title: 'A day', venue: '', weather: '', rules: [], flags: [], studentIds: [], instructorIds: [], cars: [] },
      settings: { circuitId: 'x', vehicleId: 'y', surface: 'dry', pace: 0.6, school: 'straight', method: 'smoothest', schemeId: 'z' },
      slots: [slot('driven', 'run'), slot('not driven', 'run'), slot('lunch', 'break')],
    })
    const { slots, planning } = withPlan(older, plan.sessions, new Set(['driven']))
    const byHand = slots.filter((s) => s.title === 'By hand').map((s) => s.id)
    expect(byHand.sort()).toEqual(['driven', 'lunch'])
    expect(slots).toHaveLength(2 + 5)
    expect(planning.sessions).toEqual(plan.sessions)
    // Lines that the plan makes stand once, driven or not.
    const again = withPlan({ ...older, slots }, plan.sessions, new Set(slots.map((s) => s.id)))
    expect(again.slots.map((s) => s.id).sort()).toEqual(slots.map((s) => s.id).sort())
  })
})

describe('a session that was chosen', () => {
  const session = plan.sessions.find((s) => s.formatId === 'ride-along') ?? plan.sessions[0]
  it('is shown with its people, and cannot be moved while it is locked', () => {
    const editor = (locked: boolean): string =>
      pageMarkup(
        schoolAnswers(),
        <SessionEditor
          setup={setup}
          session={session}
          others={plan.sessions.filter((s) => s.formatId === 'ride-along' && s !== session)}
          locked={locked}
          driven={false}
          names={names}
          onChange={nothing}
          onExchange={nothing}
          onRemove={nothing}
          onLock={nothing}
        />,
      )
    expect(editor(false)).toContain(`${session.start}–${session.end} Ride-along: ${names.student(session.seats[0].studentId)}`)
    expect(editor(false).match(/disabled=""/g)).toBeNull()
    expect(editor(true).match(/disabled=""/g)?.length).toBeGreaterThanOrEqual(3)
    expect(editor(true)).toContain('Locked: let it move')
  })

  it('is told with what it breaks, else with what it costs', () => {
    const told = (broken: Parameters<typeof EditJudged>[0]['judged']['broken'], cost: number): string =>
      pageWords(schoolAnswers(), <EditJudged judged={{ cost, costs: plan.costs, broken }} before={100} nameOf={names.student} />)
    expect(told([], 130)).toBe('It fits, and costs 30 minutes more.')
    expect(told([], 90)).toBe('It fits, and costs 10 minutes less.')
    expect(told([], 100.2)).toBe('It fits, and costs no more.')
    expect(told([{ rule: 'student-twice', at: '10:00', who: 's0', of: [] }], 130)).toBe('10:00 Imke Valderan: is in two places')
  })
})

describe('the board in the paddock', () => {
  const line = (start: string, end: string) => ({ start, end, kind: 'run' as const, title: 'Ride', name: 'Imke', car: '4' })
  const board = {
    title: '',
    date: '2027-05-15',
    venue: '',
    lines: [line('11:00', '11:20'), line('10:00', '10:20'), line('12:00', '12:20')],
  }
  it('shows what runs and what comes, the whole day before and after it', () => {
    expect(linesNow(board, '10:30').map((l) => l.start)).toEqual(['11:00', '12:00'])
    expect(linesNow(board, '10:10').map((l) => l.start)).toEqual(['10:00', '11:00', '12:00'])
    expect(linesNow(board, null)).toHaveLength(3)
    expect(linesNow(board, '18:00')).toHaveLength(3)
    const many = { ...board, lines: Array.from({ length: 30 }, (_, k) => line(`10:${10 + k}`, '12:00')) }
    expect(linesNow(many, '09:00')).toHaveLength(8)
  })
})

describe('a stored day of an older release', () => {
  it('has the usual planning, and no plan, board or lock', () => {
    const {
      planning: _,
      board: __,
      ...older
    } = dayPlanSchema.parse({
      date: '2027-05-15',
      title: 'A day',
      venue: '',
      weather: '',
      rules: [],
      flags: [],
      settings: { circuitId: 'x', vehicleId: 'y', surface: 'dry', pace: 0.6, school: 'straight', method: 'smoothest', schemeId: 'z' },
      studentIds: [],
      instructorIds: [],
      cars: [],
      slots: [],
    })
    const read = dayPlanSchema.parse(older)
    expect(read.planning).toEqual(usualPlanning())
    expect(read.board).toBeNull()
  })
})
