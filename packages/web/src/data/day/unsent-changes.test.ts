import type { DayPlan } from '@ochote/contract'
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { forgetUnsent, keepUnsent, takeUnsent } from './unsent-changes.ts'

const storage = (): Storage => {
  const kept = new Map<string, string>()
  return {
    getItem: (key) => kept.get(key) ?? null,
    setItem: (key, value) => void kept.set(key, value),
    removeItem: (key) => void kept.delete(key),
    clear: () => kept.clear(),
    key: (k) => [...kept.keys()][k] ?? null,
    get length() {
      return kept.size
    },
  }
}
const plan = (title: string) => ({ title }) as DayPlan

beforeEach(() => {
  vi.useFakeTimers({ now: 0 })
  vi.stubGlobal('localStorage', storage())
  vi.stubGlobal('sessionStorage', storage())
})
afterEach(() => {
  vi.useRealTimers()
  vi.unstubAllGlobals()
})

describe('changes that the server has not taken', () => {
  it('are found by the page that is loaded again: from before the first to after the last', () => {
    keepUnsent('one', plan('a'), plan('b'))
    keepUnsent('one', plan('b'), plan('c'))
    keepUnsent('other', plan('x'), plan('y'))
    expect(takeUnsent()).toMatchObject([
      { dayId: 'one', base: plan('a'), mine: plan('c') },
      { dayId: 'other', base: plan('x'), mine: plan('y') },
    ])
    expect(takeUnsent()).toEqual([])
  })

  it('are gone once the server has them', () => {
    keepUnsent('one', plan('a'), plan('b'))
    forgetUnsent('one')
    expect(takeUnsent()).toEqual([])
  })

  it('of another page are left alone while it may still send them, and taken over when it is closed', () => {
    keepUnsent('one', plan('a'), plan('b'))
    vi.stubGlobal('sessionStorage', storage())
    expect(takeUnsent()).toEqual([])
    vi.advanceTimersByTime(60_000)
    expect(takeUnsent()).toHaveLength(1)
  })

  it('stay with the page where the device is full', () => {
    vi.stubGlobal('localStorage', {
      ...storage(),
      setItem: () => {
        throw new Error('full')
      },
    })
    expect(() => keepUnsent('one', plan('a'), plan('b'))).not.toThrow()
  })
})
