import { type Corner, incidentKinds, type MistakeCode, mistakeCodes, mistakeGroups, stopsAll } from '@ochote/core'
import { describe, expect, it, vi } from 'vitest'
import {
  type DrivingActions,
  drivingActions,
  groupPages,
  groupTiles,
  incidentPages,
  lapTiles,
  mistakeTiles,
  programmeTiles,
  runTiles,
} from './driving-tiles.ts'
import { timesInWords } from './run-words.ts'

const corner = { id: 'T3', name: '3 Long Heron' } as Corner

/** Events of a run that remember what they were told. */
const told = (more: object = {}) => {
  const observe = vi.fn(async () => {})
  const tell = vi.fn(async () => {})
  const talk = vi.fn(async () => {})
  const events = { observe, tell, talk, ...more } as unknown as Parameters<typeof drivingActions>[0]
  return { events, observe, tell, talk }
}

const touches = (evidence: Partial<Record<MistakeCode, string>> = {}, at: Corner | null = corner) => ({
  corner: at ?? undefined,
  lap: 4,
  codes: ['brake-early', 'turn-in-early', 'exit-wide'] as MistakeCode[],
  again: 'turn-in-early' as MistakeCode | undefined,
  evidenceOf: (code: MistakeCode) => evidence[code],
  timesOf: (_: MistakeCode): string | undefined => undefined,
})

const actionsOf = (state: Partial<Parameters<typeof drivingActions>[2]> = {}, more: object = {}, at: Corner | null = corner) => {
  const heard = told(more)
  const answer = vi.fn()
  const actions = drivingActions(
    heard.events,
    touches({ 'brake-early': '9 m early' }, at),
    { lap: 5, kind: 'coached', talk: 'guided', why: 'three clean laps', spoilt: [{ lap: 5, cornerId: 'T4' }], ...state },
    answer,
  )
  return { ...heard, answer, actions }
}

describe('touches in the car', () => {
  it('log a mistake for the lap in which the corner was passed, with whether positions showed it', () => {
    const { actions, observe, answer } = actionsOf()
    actions.log('brake-early')
    expect(observe).toHaveBeenCalledWith('T3', 'brake-early', 4, 'ride-along', true)
    expect(answer.mock.calls[0][0]).toBe('Braked early at 3 Long Heron')
    actions.log('exit-wide')
    expect(observe).toHaveBeenLastCalledWith('T3', 'exit-wide', 4, 'ride-along', false)
    actions.log(undefined)
    expect(observe).toHaveBeenCalledTimes(2)
  })

  it('log nothing before the first corner', () => {
    const { actions, observe, tell } = actionsOf({}, {}, null)
    actions.log('brake-early')
    actions.heldWell()
    expect(observe).not.toHaveBeenCalled()
    expect(tell).toHaveBeenCalledTimes(0)
  })

  it('cool down on the next lap, from the out lap on the first, and come in on the next', () => {
    const coached = actionsOf()
    coached.actions.coolDown()
    coached.actions.comeIn()
    expect(coached.tell.mock.calls.map(([event]: unknown[]) => event)).toEqual([
      { kind: 'lap-kind', lap: 6, lapKind: 'cool-down' },
      { kind: 'lap-kind', lap: 6, lapKind: 'in' },
    ])
    const out = actionsOf({ lap: 0, kind: 'out' })
    out.actions.coolDown()
    expect(out.tell).toHaveBeenCalledWith({ kind: 'lap-kind', lap: 1, lapKind: 'cool-down' })
  })

  it('agree on a pace with the reason, and turn the talk up and down within its ends', () => {
    const { actions, tell, talk } = actionsOf()
    actions.agree(0.75)
    expect(tell).toHaveBeenCalledWith({ kind: 'pace', lap: 5, pace: 0.75, why: 'three clean laps' })
    actions.talkBy(1)
    actions.talkBy(-1)
    expect(talk.mock.calls).toEqual([
      ['driven', 5],
      ['quiet', 5],
    ])
    const ends = actionsOf({ talk: 'driven' })
    ends.actions.talkBy(1)
    expect(ends.talk).not.toHaveBeenCalled()
  })
})

describe('targets in the car', () => {
  const actions = Object.fromEntries(
    [
      'log',
      'heldWell',
      'talkBy',
      'traffic',
      'setAside',
      'coolDown',
      'comeIn',
      'agree',
      'stepAgain',
      'stepOn',
      'atLine',
      'incident',
      'end',
    ].map((name) => [name, vi.fn()]),
  ) as unknown as DrivingActions

  it('show what positions show, and what was logged here before, each on its key', () => {
    const tiles = mistakeTiles(touches({ 'exit-wide': '0.4 m over the edge' }), actions.log)
    expect(tiles.map((t) => [t.number, t.words, t.under, t.tone])).toEqual([
      [1, 'Braked early', undefined, 'plain'],
      [2, 'Same again: turned in early', undefined, 'plain'],
      [3, 'Ran wide at the exit', '0.4 m over the edge', 'shown'],
    ])
    tiles[2].onTap()
    expect(actions.log).toHaveBeenCalledWith('exit-wide')
  })

  it('are never more than six beside Undo, with an advised pace in place of the cool-down', () => {
    const plain = lapTiles(corner, 'guided', { pace: null, words: '' }, actions)
    const advised = lapTiles(corner, 'guided', { pace: 0.75, words: 'a step up to steady' }, actions)
    for (const tiles of [
      plain,
      advised,
      runTiles(true, false, actions),
      runTiles(false, true, actions),
      programmeTiles(true, null, actions),
    ])
      expect(tiles.length).toBeLessThanOrEqual(6)
    expect(plain.map((t) => t.id)).toContain('cool')
    expect(advised.map((t) => t.id)).not.toContain('cool')
    advised.find((t) => t.id === 'pace')?.onTap()
    expect(actions.agree).toHaveBeenCalledWith(0.75)
  })

  it('offer the line by hand only where no position comes', () => {
    expect(runTiles(true, false, actions).map((t) => t.id)).toEqual(['incident', 'end'])
    expect(runTiles(false, false, actions).map((t) => t.id)).toEqual(['incident', 'line', 'end'])
    expect(runTiles(true, true, actions).find((t) => t.id === 'end')?.words).toMatch(/again/)
  })

  it('set a lap aside by one touch, and count it again by another', () => {
    const { actions: real, tell } = actionsOf()
    const tap = (id: string, aside: 'spoilt' | null): void =>
      programmeTiles(false, aside, { ...actions, ...real })
        .find((t) => t.id === id)
        ?.onTap()
    tap('spoilt', null)
    tap('counts', 'spoilt')
    expect(tell.mock.calls).toEqual([[{ kind: 'set-aside', lap: 5, reason: 'spoilt' }], [{ kind: 'set-aside', lap: 5, reason: null }]])
  })

  it('repeat a step of the programme or go on to the next', () => {
    const { actions: real, tell } = actionsOf({}, { stepOf: () => ({ number: 2, pace: null, talk: 'guided' }) })
    real.stepAgain()
    real.stepOn()
    expect(tell.mock.calls).toEqual([[{ kind: 'step', lap: 6, step: 2 }], [{ kind: 'step', lap: 5, step: 3 }]])
  })
})

describe('every mistake', () => {
  it('is two touches away: its group, then itself, never more than seven targets on a page', () => {
    const logged: string[] = []
    for (const group of mistakeGroups) {
      const pages = groupPages(group, true, (code) => logged.push(code))
      for (const { tiles } of pages) {
        expect(tiles.length).toBeLessThanOrEqual(5)
        for (const tile of tiles) tile.onTap()
      }
      const numbers = pages.flatMap(({ tiles }) => tiles.map((t) => t.number))
      expect(numbers).toEqual(numbers.map((_, k) => k + 1))
    }
    expect([...logged].sort()).toEqual([...mistakeCodes].sort())
    expect(groupTiles(() => {}).length).toBeLessThanOrEqual(6)
    // Nobody sits on a seat in a car.
    expect(groupPages('eyes-hands', false, () => {}).flatMap(({ tiles }) => tiles.map((t) => t.id))).not.toContain('body-line')
  })

  it('says how often it was logged here, and whether it gets smaller', () => {
    expect([timesInWords(1, null), timesInWords(3, 'smaller')]).toEqual(['logged once here', 'logged 3 times here, getting smaller'])
    const tiles = mistakeTiles(
      { ...touches({}), timesOf: (code) => (code === 'brake-early' ? 'logged 3 times here' : undefined) },
      () => {},
    )
    expect(tiles[0].under).toBe('logged 3 times here')
  })
})

describe('an incident seen from the car', () => {
  it('names those that stop everybody first, and whose it is', () => {
    const seen: string[] = []
    const turn = vi.fn()
    const pages = incidentPages(true, turn, (what) => seen.push(what))
    for (const { tiles } of pages) {
      expect(tiles.length).toBeLessThanOrEqual(5)
      for (const tile of tiles) tile.onTap()
    }
    expect(seen).toEqual([...incidentKinds.filter(stopsAll), ...incidentKinds.filter((k) => !stopsAll(k))])
    expect(turn).toHaveBeenCalledTimes(2)
    expect(pages[0].tiles.filter((t) => t.under === 'stops everybody')).toHaveLength(incidentKinds.filter(stopsAll).length)
  })
})
