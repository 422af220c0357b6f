import type { Corner, MistakeCode } from '@ochote/core'
import { describe, expect, it, vi } from 'vitest'
import { type DrivingActions, drivingActions, lapTiles, mistakeTiles, runTiles } from './driving-tiles.ts'

const corner = { id: 'T3', name: '3 Long Heron' } as Corner

/** Events of a run that remember what they were told. */
const told = () => {
  const observe = vi.fn(async () => {})
  const tell = vi.fn(async () => {})
  const talk = vi.fn(async () => {})
  const events = { observe, tell, talk } as unknown as Parameters<typeof drivingActions>[0]
  return { events, observe, tell, talk }
}

const touches = (evidence: Partial<Record<MistakeCode, string>> = {}, at: Corner | null = corner) => ({
  corner: at ?? undefined,
  lap: 4,
  codes: ['brake-early', 'turn-in-early', 'exit-wide'] as MistakeCode[],
  again: 'turn-in-early' as MistakeCode | undefined,
  evidenceOf: (code: MistakeCode) => evidence[code],
})

const actionsOf = (state: Partial<Parameters<typeof drivingActions>[2]> = {}, at: Corner | null = corner) => {
  const heard = told()
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
    const { actions, observe, tell } = actionsOf({}, null)
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
    expect(talk.mock.calls).toEqual([['driven'], ['quiet']])
    const ends = actionsOf({ talk: 'driven' })
    ends.actions.talkBy(1)
    expect(ends.talk).not.toHaveBeenCalled()
  })
})

describe('targets in the car', () => {
  const actions = Object.fromEntries(
    ['log', 'heldWell', 'talkBy', 'traffic', 'coolDown', 'comeIn', 'agree', 'atLine', 'end'].map((name) => [name, vi.fn()]),
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
    for (const tiles of [plain, advised, runTiles(true, null, actions), runTiles(false, null, actions)])
      expect(tiles.length).toBeLessThanOrEqual(6)
    expect(plain.map((t) => t.id)).toContain('cool')
    expect(advised.map((t) => t.id)).not.toContain('cool')
    advised.find((t) => t.id === 'pace')?.onTap()
    expect(actions.agree).toHaveBeenCalledWith(0.75)
  })

  it('offer the line by hand only where no position comes', () => {
    expect(runTiles(true, null, actions).map((t) => t.id)).toEqual(['cool', 'in', 'spoilt', 'flag', 'end'])
    expect(runTiles(false, null, actions).map((t) => t.id)).toEqual(['cool', 'in', 'spoilt', 'flag', 'line', 'end'])
  })

  it('set a lap aside by one touch, and count it again by another', () => {
    const { actions: real, tell } = actionsOf()
    const tap = (id: string, aside: 'spoilt' | null): void =>
      runTiles(true, aside, { ...actions, ...real })
        .find((t) => t.id === id)
        ?.onTap()
    tap('spoilt', null)
    tap('counts', 'spoilt')
    expect(tell.mock.calls).toEqual([[{ kind: 'set-aside', lap: 5, reason: 'spoilt' }], [{ kind: 'set-aside', lap: 5, reason: null }]])
  })
})
