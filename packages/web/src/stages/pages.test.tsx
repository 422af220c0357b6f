import { readFileSync } from 'node:fs'
import { ThemeProvider } from '@mui/material'
import { circuitNotesSchema, dayPlanSchema, type StoredFinding, type StudentRecord } from '@ochote/contract'
import {
  buildCircuit,
  CoreError,
  checkScheme,
  coneSchemes,
  coneSetOf,
  cornerMetrics,
  findCorners,
  groundKinds,
  makePlan,
  markKinds,
  type Observation,
  type Plan,
  readCircuit,
  shiftPoints,
  type Vehicle,
} from '@ochote/core'
import { QueryClient, QueryClientProvider } from '@tanstack/react-query'
import type { ReactElement } from 'react'
import { renderToStaticMarkup } from 'react-dom/server'
import { describe, expect, it } from 'vitest'
import { ApiProblem } from '../data/api/api-client.ts'
import { makeTheme } from '../look/theme.tsx'
import { CornerCard } from '../shared/corner-card/corner-card.tsx'
import { CornerWhy } from '../shared/corner-card/why.tsx'
import { wordsIn } from '../shared/language/words.ts'
import { GroundGlyph } from '../shared/marks/ground-glyph.tsx'
import { groundWords } from '../shared/marks/ground-words.ts'
import { MarkShape } from '../shared/marks/mark-glyph.tsx'
import { ProblemNote } from '../shared/problem-note.tsx'
import { LapSelectionProvider } from '../shared/selection/lap-selection.tsx'
import { type BriefPage, briefPages } from './brief/brief-pages.ts'
import { OwnText, PageView } from './brief/page-view.tsx'
import { CornerTable } from './circuit/corner-table.tsx'
import { GroundTable, type Placing } from './circuit/ground-table.tsx'
import { AudienceEditor } from './cones/audience-editor.tsx'
import { ConeCode } from './cones/cone-code.tsx'
import { droppedInWords, hiddenInWords, sameViewInWords, schemeProblemInWords, unplacedInWords } from './cones/cone-words.ts'
import { LayingTable } from './cones/laying-table.tsx'
import { FindingsList } from './debrief/findings-list.tsx'
import { MistakeGrid } from './record/mistake-grid.tsx'

const demo = (file: string): string => readFileSync(new URL(`../../../../demo/${file}`, import.meta.url), 'utf8')
const circuit = buildCircuit(readCircuit(demo('ostrel-mere.geojson'), 'Ostrel Mere'))
const corners = findCorners(circuit).map((c) => (c.id === 'T1' ? { ...c, name: 'Boathouse' } : c))
const vehicles = JSON.parse(demo('vehicles.json')) as Vehicle[]
const [car] = vehicles
const plan: Plan = makePlan({ circuit, corners, ground: [] }, car, { surface: 'dry', pace: 0.6, school: 'straight' })
const day = dayPlanSchema.parse(JSON.parse(demo('scenario.json')).day)

const markup = (element: ReactElement): string =>
  renderToStaticMarkup(
    <ThemeProvider theme={makeTheme(false)}>
      <LapSelectionProvider>{element}</LapSelectionProvider>
    </ThemeProvider>,
  ).replace(/<style[\s\S]*?<\/style>/g, '')
/** The texts of an element in order, without tags. */
const words = (element: ReactElement): string =>
  markup(element)
    .replace(/<[^>]+>/g, ' ')
    .replace(/\s+/g, ' ')
    .trim()

describe('problems of a scheme in words', () => {
  it('name the cones and what to do', () => {
    const rule = { colour: 'orange' as const, shape: 'tall' as const, count: 1, side: 'outside' as const, beyondEdge_m: 0.4 }
    const scheme = { id: 'x', name: 'x', rules: { 'turn-in': rule, exit: { ...rule, colour: 'green' as const }, apex: rule } }
    const text = checkScheme(scheme, ['green']).map(schemeProblemInWords).join(' ')
    expect(text).toContain('No cone marks the braking point')
    expect(text).toContain('green is kept for pits and hazards here, yet stands for exit')
    expect(text).toContain('Turn-in and Apex look the same')
    expect(text).toContain('orange and green (turn-in, exit) look alike to someone who cannot see red')
  })
})

describe('ground', () => {
  const notes = circuitNotesSchema.parse({ ...(JSON.parse(demo('scenario.json')).circuits[0] as object) })
  const venue = { circuit, corners, ground: notes.ground }
  const noted = makePlan(venue, car, { surface: 'dry', pace: 0.6, school: 'straight' })

  it('has a drawing and a name for every kind, all different', () => {
    const drawings = groundKinds.map((kind) => markup(<GroundGlyph kind={kind} />))
    expect(new Set(drawings).size).toBe(groundKinds.length)
    expect(new Set(groundKinds.map((kind) => groundWords[kind].name)).size).toBe(groundKinds.length)
  })

  it('stands in its table in order of travel, with what it is made of', () => {
    const text = words(<GroundTable plan={noted} notes={notes} placing={null} onPlacing={() => {}} onChange={() => {}} />)
    expect(text.indexOf('Pit wall')).toBeLessThan(text.indexOf('Boathouse gravel, 45 m of gravel'))
    expect(text).toContain('Soft edge at the exit, 0 to 0.6 m from the edge')
    expect(text.match(/Edit/g)).toHaveLength(notes.ground.length)
  })

  it('says what to click next while something is placed', () => {
    const table = (placing: Placing) =>
      words(<GroundTable plan={noted} notes={notes} placing={placing} onPlacing={() => {}} onChange={() => {}} />)
    expect(table({ kind: 'bump', from_m: null })).toContain('where it is, on its side')
    expect(table({ kind: 'wall', from_m: null })).toContain('where it begins')
    expect(table({ kind: 'wall', from_m: 40 })).toContain('Click where it ends.')
  })
})

describe('the table of corners on screen', () => {
  it('gives price and grace once they are computed, and dots until then', () => {
    const numbers = cornerMetrics(plan)
    const text = words(<CornerTable plan={plan} numbers={numbers} />)
    for (const { worth, grace } of numbers) {
      expect(text).toContain(worth.price_spmps.toFixed(3))
      if (grace) expect(text).toContain(`${grace.time_s.toFixed(2)} s`)
    }
    expect(words(<CornerTable plan={plan} numbers={undefined} />)).toContain('…')
  })
})

describe('why a corner is what it is', () => {
  const numbers = cornerMetrics(plan)
  const text = (cornerId: string): string => {
    const own = numbers.find((n) => n.cornerId === cornerId)
    if (!own) throw new Error(`No numbers of ${cornerId}`)
    return words(<CornerWhy plan={plan} numbers={own} shifts={shiftPoints(plan)} />)
  }

  it('gives the core’s numbers with how they came about', () => {
    const [first] = numbers
    expect(text('T1')).toContain(`${first.worth.price_spmps.toFixed(3)} s per m/s of exit speed, no. ${first.worth.rank} of 11`)
    expect(text('T1')).toContain(`${Math.round(first.grace?.metres_m ?? 0)} m, ${first.grace?.time_s.toFixed(2)} s`)
    expect(text('T1')).toContain('90% of the full grip')
    expect(text('T1')).toMatch(/Gears (\d to \d at \d+ m(, )?)+/)
    expect(text('T1')).toMatch(/Eyes at turn-in, look at .* s ahead/)
  })

  it('says where nothing is braked, and what nobody noted', () => {
    expect(text('T8')).toContain('no braking before the turn-in')
    expect(text('T2')).toContain('grass assumed')
  })
})

describe('the corner card', () => {
  it('says how to open it while no corner is chosen', () => {
    expect(words(<CornerCard plan={plan} cornerId={null} />)).toContain('Choose a corner')
  })

  it('lists the marks of its corner with the plan’s own numbers, in order', () => {
    const text = words(<CornerCard plan={plan} cornerId="T1" />)
    expect(text).toContain('1 Boathouse Right corner, radius 30 m')
    const marks = plan.marks.filter((m) => m.cornerId === 'T1')
    let from = 0
    for (const mark of marks) {
      const at = text.indexOf(`${Math.round(mark.station_m)} m ${Math.round(mark.speed_mps * 3.6)} km/h ${mark.gear}`, from)
      expect(at).toBeGreaterThanOrEqual(from)
      // Marks may share a place: the next search begins behind this one.
      from = at + 1
    }
  })
})

describe('glyphs', () => {
  it('tell every kind of mark apart by shape alone', () => {
    const shapes = markKinds.map((kind) => markup(<MarkShape kind={kind} />))
    expect(new Set(shapes).size).toBe(markKinds.length)
    for (const shape of shapes) expect(shape).not.toMatch(/#[0-9a-f]{3,6}/i)
  })
})

const school = { schemes: coneSchemes, stock: {}, reserved: [] }
const inputs = { plan, schemeId: coneSchemes[0].id, school, work: day.cones, numbers: undefined, served: [], lines: [], sheets: [] }
const set = coneSetOf(inputs)
const plainWork = { ...day.cones, nudges: {}, level: 'steady' as const }
const plainSet = coneSetOf({ ...inputs, work: plainWork })

describe('cones on the page', () => {
  const rows = plainSet.sheet

  it('have a row each, with words for where the apex is', () => {
    const html = markup(<LayingTable rows={rows} corners={plan.corners} />)
    expect(html.match(/<tr/g)).toHaveLength(rows.length + 1)
    const text = words(<LayingTable rows={rows.slice(0, 5)} corners={plan.corners} />)
    expect(text).toContain('205 m before')
    expect(text).toContain('at it')
    expect(text).toContain('56 m after')
    expect(text).toContain('none near')
  })

  it('are explained by colour, shape and count', () => {
    const html = markup(<ConeCode scheme={coneSchemes[0]} />)
    expect(html.match(/aria-label="yellow tall"/g)).toHaveLength(2)
    expect(html.match(/aria-label="blue tall"/g)).toHaveLength(1)
    expect(words(<ConeCode scheme={coneSchemes[0]} />)).toContain('Pit lane')
  })

  it('say what is missing, hidden, without a place or mistakable, each with what to do', () => {
    const nameOf = (id: string): string => (id === 'T1' ? 'Boathouse' : id)
    const dropped = { groupId: 'T1-exit', cornerId: 'T1', kind: 'exit' as const, colour: 'pink' as const, count: 1, worth: 4, short: 2 }
    expect(droppedInWords([dropped], nameOf)).toEqual(['2 pink cones are missing. Left out, least important first: exit at Boathouse.'])
    expect(unplacedInWords({ groupId: 'x', cornerId: 'T1', kind: 'exit', reason: 'run-off' }, nameOf)).toContain(
      'No safe place for the Exit cone at Boathouse',
    )
    const hidden = { cornerId: 'T1', kind: 'brake' as const, time_s: 2.14 }
    expect(hiddenInWords({ ...hidden, helps: 'sighter' }, nameOf)).toContain('2.1 s before it: a sighter stands')
    expect(hiddenInWords({ ...hidden, helps: 'neither' }, nameOf)).toContain('Drive it slower')
    expect(hiddenInWords({ ...hidden, helps: 'call-for-some' }, nameOf)).toContain('not for everyone')
    const view = {
      colour: 'orange' as const,
      kinds: ['apex', 'exit'] as const,
      sameShape: false,
      places: [{ cornerId: 'T1', separation_m: 40 }],
    }
    expect(sameViewInWords(view, nameOf)).toBe(
      'orange means apex and exit in one view at 1 place, told apart by shape alone, nearest at Boathouse (40 m apart).',
    )
  })

  it('are fewer where a colour is short, and none where there are none', () => {
    const short = coneSetOf({ ...inputs, work: plainWork, school: { ...school, stock: { white: 0 } } })
    expect(short.cones.some((c) => c.colour === 'white')).toBe(false)
    expect(short.dropped.length).toBeGreaterThan(5)
    expect(short.sheet).toHaveLength(short.cones.length)
  })

  it('tell each of those who share them what to do at the cone', () => {
    const coupe = makePlan({ circuit, corners, ground: [] }, vehicles[2], { surface: 'dry', pace: 0.75, school: 'straight' })
    const served = [{ vehicleId: 'gt-coupe', level: 'building' as const, pace: 0.75 }]
    const both = coneSetOf({ ...inputs, work: { ...day.cones, served }, served: [coupe] })
    const text = words(
      <QueryClientProvider client={new QueryClient()}>
        <AudienceEditor
          plan={plan}
          work={day.cones}
          shared={both.shared}
          vehicles={vehicles}
          byGroups={{ served, lines: [] }}
          canChange
          onChange={() => {}}
        />
      </QueryClientProvider>,
    )
    expect(text).toMatch(/0\.\d s after the cone/)
    expect(text).toContain('at the cone')
    expect(text).toContain('As the day’s groups drive')
  })
})

describe('briefing pages on the projector', () => {
  const english = wordsIn('en')
  const tips = { T1: 'Nobody passes.' }
  const pages = briefPages({ plan, day, scheme: coneSchemes[0], words: english, units: 'metric', cornerTips: tips, questions: [] })
  const page = (id: string): BriefPage => {
    const found = pages.find((p) => p.id === id)
    if (!found) throw new Error(`No page ${id}`)
    return found
  }
  const show = (id: string): string => words(<PageView page={page(id)} state={{ plan, set, settings: day.settings, words: english }} />)

  it('show every rule, every flag and every cone', () => {
    for (const rule of day.rules) expect(show('rules')).toContain(rule)
    for (const flag of day.flags) expect(show('flags')).toContain(`${flag.name} ${flag.meaning}`)
    expect(show('cones')).toContain('2 × yellow, tall cone, on the outside')
  })

  it('show a corner’s speeds, its metres from the apex, gear and traffic', () => {
    expect(show('T1')).toContain('Brake 167 km/h, 202 m before')
    expect(show('T1')).toContain('Apex 60 km/h')
    expect(show('T1')).toContain('gear 2')
    expect(show('T1-besides')).toContain('Traffic: Nobody passes.')
  })

  it('let Markdown of a school’s own do no harm', () => {
    const text = '**Rain** <script>alert(1)</script> ![x](http://a/b.png) [go](javascript:alert(1))\n\n- one'
    const html = markup(<OwnText text={text} />)
    expect(html).toContain('<strong>Rain</strong>')
    expect(html).toContain('<li>one</li>')
    expect(html).not.toMatch(/<script|<img|<a |javascript:/)
  })
})

const turnInEarly = { code: 'turn-in-early', evidence: { turnIn_m: 300, referenceTurnIn_m: 309, later_m: -9, allowed_m: -6 } } as const
const ranWide = { code: 'exit-wide', evidence: { margin_m: -0.4, referenceMargin_m: 0.5, wanted_m: 0.3 } } as const
const finding = (change: Partial<StoredFinding>): StoredFinding => ({
  lap: 2,
  cornerId: 'T1',
  station_m: 300,
  from_m: 300,
  to_m: 310,
  certainty: 0.97,
  root: true,
  because: null,
  lossTime_s: 0.12,
  ...({ ...turnInEarly, ...change } as typeof turnInEarly),
})
const observation: Observation = { id: 'o', runId: 'r', at: '', kind: 'observation', cornerId: 'T3', code: 'eyes-near', lap: 1 }

const twice = [{ cornerId: 'T1' }, { cornerId: 'T1' }]

describe('findings in the debrief', () => {
  it('of many laps are one line each, with how often', () => {
    const four = [...twice, ...twice]
    const often = (laps: readonly number[]): string =>
      words(<FindingsList plan={plan} findings={laps.map((lap) => finding({ lap }))} observations={[]} passes={four} />)
    expect(often([1, 2, 3, 4])).toMatch(/^Boathouse Every lap turned in 9 m early[^E]*$/)
    expect(often([1, 2, 4])).toContain('Boathouse Most laps, 3 of 4 turned in')
    expect(often([1, 2])).toContain('Boathouse 2 of 4 laps turned in')
    expect(often([3])).toContain('Boathouse Once, lap 3 turned in')
  })

  it('fold consequences under their root, with sizes and time', () => {
    const wide = finding({ ...ranWide, root: false, because: 'turn-in-early' })
    const text = words(<FindingsList plan={plan} findings={[finding({}), wide]} observations={[]} passes={twice} />)
    expect(text).toBe(
      'Boathouse Once, lap 2 turned in 9 m early (up to 6 m is fine) +0.12 s in this corner which led to: ran 0.4 m over the outer edge at the exit',
    )
  })

  it('stand beside what was logged by hand, corner by corner in travel order', () => {
    const text = words(<FindingsList plan={plan} findings={[finding({ cornerId: 'T6' })]} observations={[observation]} passes={twice} />)
    expect(text.indexOf('T3')).toBeLessThan(text.indexOf('T6'))
    expect(text).toContain('Lap 1 Looking too close — logged in the car')
  })

  it('say so when there is nothing', () => {
    expect(words(<FindingsList plan={plan} findings={[]} observations={[]} passes={twice} />)).toContain('Nothing stood out')
  })
})

describe('mistakes over runs', () => {
  it('show a bar a lap of the log and a ring a sight from the seat', () => {
    const seen = (by: 'hand' | 'log', lap: number) => ({
      cornerId: 'T1',
      circuitId: 'c',
      code: 'apex-missed' as const,
      run: 1,
      runId: 'r1',
      lap,
      by,
    })
    const runs = [
      { id: 'r1', date: '2027-04-03' },
      { id: 'r2', date: '2027-04-10' },
    ] as StudentRecord['runs']
    const tallies = [{ cornerId: 'T1', code: 'apex-missed' as const, count: 3, runs: 1, lastRun: 1, worth_s: 0 }]
    const html = markup(
      <MistakeGrid
        seen={[seen('log', 1), seen('log', 2), seen('hand', 2)]}
        runs={runs}
        tallies={tallies}
        nameOf={(id) => `Corner ${id}`}
      />,
    )
    expect(html).toContain('aria-label="2 in the log, 1 by hand"')
    expect(html).toContain('aria-label="0 in the log, 0 by hand"')
    expect(html).toContain('Corner T1')
    expect(html).toContain('03.04.')
  })
})

describe('failures in words', () => {
  it('name the server’s place and remedy', () => {
    const problem = {
      type: 'urn:x',
      title: 'The centreline does not close.',
      status: 422,
      code: 'circuit-open',
      place: 'point 9',
      remedy: 'Survey the whole lap.',
    }
    expect(words(<ProblemNote error={new ApiProblem(problem)} />)).toBe('The centreline does not close. At point 9. Survey the whole lap.')
  })

  it('put the core’s own errors into words', () => {
    const text = words(<ProblemNote error={new CoreError('line-no-road', 'station 40 m', { vehicle_m: 2, margin_m: 0.5 })} />)
    expect(text).toContain('No road is left for a vehicle 2 m wide')
    expect(text).toContain('At station 40 m.')
  })

  it('say what is kept when nobody foresaw it, and nothing where nothing failed', () => {
    expect(words(<ProblemNote error={new Error('odd')} />)).toContain('Nothing you entered is lost')
    expect(words(<ProblemNote error={null} />)).toBe('')
  })
})
