import { describe, expect, it } from 'vitest'
import { demoVenuePlan } from '../../fixtures/load.ts'
import { cornerMetrics } from '../corner-numbers/corner-metrics.ts'
import { markOf } from '../marks/mark.ts'
import { conesForLevel, fadeCones } from './fading.ts'
import { placeCones } from './placement.ts'
import { coneSchemes } from './scheme.ts'
import { shareCones } from './share.ts'
import { coneWorth, fitStock } from './stock.ts'

const scheme = coneSchemes[0]
const plan = demoVenuePlan()
const numbers = cornerMetrics(plan)
const { cones } = placeCones(plan, scheme)

describe('one set of cones for several', () => {
  const slow = { label: 'first day in the hatchback', plan: demoVenuePlan({ pace: 0.6 }), reaction_s: 0.5 }
  const quick = { label: 'steady in the coupe', plan: demoVenuePlan({ pace: 0.75 }, 'coupe'), reaction_s: 0 }

  it('stands to brake for whoever needs it first, and tells everybody else how long to wait', () => {
    const groups = shareCones([slow, quick], scheme)
    const brake = groups.find((g) => g.groupId === 'T1-brake')
    const wishes = [slow, quick].map((s) => {
      const mark = markOf(s.plan.marks, 'T1', 'brake')
      return (mark?.station_m ?? 0) - s.reaction_s * (mark?.speed_mps ?? 0)
    })
    expect(brake?.station_m).toBeCloseTo(Math.min(...wishes), 6)
    const waits = brake?.audience.map((f) => f.wait_s ?? 0) ?? []
    expect(Math.min(...waits)).toBeCloseTo(0, 6)
    const later = [slow, quick][wishes.indexOf(Math.max(...wishes))]
    const speed = markOf(later.plan.marks, 'T1', 'brake')?.speed_mps ?? 1
    expect(Math.max(...waits)).toBeCloseTo(Math.abs(wishes[0] - wishes[1]) / speed, 0)
  })

  it('stands half way between to place the car by, and says where one set cannot serve all', () => {
    const groups = shareCones([slow, quick], scheme)
    for (const g of groups.filter((g) => g.kind === 'apex')) {
      const offs = g.audience.map((f) => f.off_m ?? 0)
      expect(offs[0] + offs[1]).toBeCloseTo(0, 6)
    }
    const far = shareCones([slow, { ...quick, plan: demoVenuePlan({ pace: 0.85 }, 'single-seater') }], scheme)
    expect(far.some((g) => !g.fits)).toBe(true)
    expect(shareCones([slow], scheme).every((g) => g.fits)).toBe(true)
    expect(shareCones([], scheme)).toEqual([])
  })
})

describe('stock', () => {
  it('drops whole groups, the least worth first, until the rest can be laid', () => {
    const yellow = cones.filter((c) => c.colour === 'yellow')
    const { cones: kept, dropped } = fitStock(cones, { yellow: yellow.length - 3 }, numbers)
    expect(dropped).toHaveLength(2)
    expect(kept.filter((c) => c.colour === 'yellow').length).toBeLessThanOrEqual(yellow.length - 3)
    expect(kept.filter((c) => c.colour !== 'yellow')).toHaveLength(cones.filter((c) => c.colour !== 'yellow').length)
    const worst = [...new Set(yellow.map((c) => c.groupId))].map((id) =>
      coneWorth(yellow.find((c) => c.groupId === id) ?? yellow[0], numbers),
    )
    worst.sort((a, b) => a - b)
    expect(dropped.map((d) => d.worth)).toEqual(worst.slice(0, 2))
    for (const d of dropped) expect(kept.some((c) => c.groupId === d.groupId)).toBe(false)
  })

  it('drops the exit of a cheap corner before that of the dearest, and apexes before brakes', () => {
    const by = (id: string, kind: 'exit' | 'brake') => coneWorth({ kind, cornerId: id }, numbers)
    const sorted = [...numbers].sort((a, b) => a.worth.price_spmps - b.worth.price_spmps)
    const [cheap, dear] = [sorted[0].cornerId, sorted[sorted.length - 1].cornerId]
    expect(by(cheap, 'exit')).toBeLessThan(by(dear, 'exit'))
    expect(by(dear, 'exit')).toBeLessThan(by(cheap, 'brake'))
  })

  it('lays nothing of a colour of which there are none, and everything that was not counted', () => {
    const { cones: kept, dropped } = fitStock(cones, { white: 0 }, numbers)
    expect(kept.some((c) => c.colour === 'white')).toBe(false)
    expect(dropped.every((d) => d.colour === 'white' && d.short === cones.filter((c) => c.colour === 'white').length)).toBe(true)
    expect(fitStock(cones, {}, numbers).cones).toHaveLength(cones.length)
  })
})

describe('fading out', () => {
  const brake = markOf(plan.marks, 'T5', 'brake')?.station_m ?? 0
  const apex = markOf(plan.marks, 'T5', 'apex')?.station_m ?? 0
  const post = (id: string, s_m: number) => ({ id, kind: 'reference', name: id, side: 'left', from_m: s_m, to_m: s_m }) as const
  const fadings = fadeCones({ ...plan, ground: [post('post', brake + 20), post('kerb', apex - 5)] }, cones)
  const of = (groupId: string) => fadings.find((f) => f.groupId === groupId)

  it('takes a cone away only where a lasting reference takes over, placing cones before acting ones', () => {
    expect(of('T5-brake')).toMatchObject({ goesAt: 'steady', reference: { name: 'post' } })
    expect(of('T5-apex')).toMatchObject({ goesAt: 'building', reference: { name: 'kerb' } })
    expect(of('T1-brake')).toMatchObject({ goesAt: null, why: 'no-reference' })
    expect(fadings.filter((f) => f.kind === 'pit-lane').every((f) => f.why === 'safety' && f.goesAt === null)).toBe(true)
  })

  it('leaves all for a first day, fewer for each level', () => {
    const count = (level: 'first-day' | 'building' | 'steady') => conesForLevel(cones, fadings, level).length
    expect(count('first-day')).toBe(cones.length)
    expect(count('building')).toBe(cones.length - 1)
    expect(count('steady')).toBe(cones.length - 3)
  })
})
