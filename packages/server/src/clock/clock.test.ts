import { seededRandom } from '@ochote/core'
import { describe, expect, it } from 'vitest'
import { startTestServer } from '../test-server.test-data.ts'
import { type ClockDecision, type KeptClock, serverClock } from './clock.ts'
import { correctEvents } from './kept-clock.ts'

const DAY_MS = 86_400_000
const START = Date.parse('2027-05-15T09:00:00Z')

/** A machine whose clock somebody sets. */
const machineAt = (wall = START, steady = 5000) => {
  const at = { wall, steady }
  return {
    source: { wall: () => at.wall, steady: () => at.steady },
    /** Time goes by. */
    pass: (ms: number): void => {
      at.wall += ms
      at.steady += ms
    },
    /** Somebody, or the network, sets the clock. */
    set: (by_ms: number): void => {
      at.wall += by_ms
    },
    at,
  }
}

describe('the time of the server', () => {
  it('follows the machine’s clock, also where that is slow or drifts a little', () => {
    const machine = machineAt()
    const clock = serverClock({ source: machine.source })
    for (let k = 0; k < 100; k++) {
      machine.pass(1000)
      machine.set(15)
      clock.now()
    }
    expect(clock.now()).toBe(machine.at.wall)
    expect(clock.state()).toEqual({ ahead_ms: 0, doubtful: false })
  })

  it.each([15 * DAY_MS, -400 * DAY_MS, 3_600_000])('goes on as it did where that is set by %d ms', (jump) => {
    const machine = machineAt()
    const clock = serverClock({ source: machine.source })
    machine.pass(60_000)
    machine.set(jump)
    expect(clock.now()).toBe(START + 60_000)
    machine.pass(1000)
    expect(clock.now()).toBe(START + 61_000)
    expect(clock.state()).toEqual({ ahead_ms: jump, doubtful: true })
  })

  it('goes on through twenty jumps of any size (seed 12), each to be decided anew', () => {
    const random = seededRandom(12)
    const machine = machineAt()
    const clock = serverClock({ source: machine.source })
    let passed_ms = 0
    for (let k = 0; k < 20; k++) {
      const ms = Math.round(random.uniform() * 600_000)
      passed_ms += ms
      machine.pass(ms)
      const jump_ms = Math.round((random.uniform() - 0.5) * 800 * DAY_MS)
      machine.set(jump_ms)
      expect(Math.abs(clock.now() - START - passed_ms)).toBeLessThan(1)
      expect(clock.state().doubtful).toBe(true)
      // Every second time the devices say at once that the time used is right.
      if (k % 2 === 0) for (const device of ['a', 'b']) clock.heard(device, START + passed_ms)
      expect(clock.state().doubtful).toBe(k % 2 === 1)
    }
  })

  it('stays as it is once two devices agree with it', () => {
    const machine = machineAt()
    const decided: ClockDecision[] = []
    const clock = serverClock({ source: machine.source, onDecided: (d) => decided.push(d) })
    machine.set(15 * DAY_MS)
    clock.heard('a', START + 300)
    clock.heard('b', START - 200)
    expect(clock.state()).toEqual({ ahead_ms: 15 * DAY_MS, doubtful: false })
    expect(decided).toEqual([])
    // Devices do not move a time that is not in doubt.
    for (let k = 0; k < 9; k++) clock.heard('a', START + DAY_MS)
    expect(clock.now()).toBe(START)
  })

  it('takes the newly set clock once devices agree with that, and says which times were wrong', () => {
    const machine = machineAt()
    const decided: ClockDecision[] = []
    const clock = serverClock({ source: machine.source, onDecided: (d) => decided.push(d) })
    machine.pass(30_000)
    // The machine began in the past; the network has set it right now.
    machine.set(400 * DAY_MS)
    clock.heard('a', machine.at.wall + 100)
    clock.heard('b', machine.at.wall - 100)
    expect(clock.now()).toBe(machine.at.wall)
    expect(clock.state()).toEqual({ ahead_ms: 0, doubtful: false })
    expect(decided).toHaveLength(1)
    expect(decided[0].from).toBe(START)
    expect(decided[0].to).toBe(START + 30_000)
    expect(Math.abs(decided[0].shift_ms - 400 * DAY_MS)).toBeLessThan(1000)
  })

  it('believes a single device only when it says the same again, and not one of two that differ', () => {
    const machine = machineAt()
    const clock = serverClock({ source: machine.source })
    machine.set(DAY_MS)
    clock.heard('a', machine.at.wall)
    clock.heard('a', machine.at.wall)
    expect(clock.state().doubtful).toBe(true)
    clock.heard('b', START)
    clock.heard('a', machine.at.wall)
    expect(clock.state()).toEqual({ ahead_ms: DAY_MS, doubtful: true })
    clock.heard('c', START + 10)
    expect(clock.state()).toEqual({ ahead_ms: DAY_MS, doubtful: false })
  })

  const kept = (change: Partial<KeptClock> = {}): KeptClock => ({ now: START, steady: 5000, bootId: 'one', correction_ms: 0, ...change })

  it('is in doubt after a restart with a clock that does not fit to the time that went by, or has gone back', () => {
    const set = machineAt(START + 60_000 + DAY_MS, 65_000)
    const same = serverClock({ source: set.source, kept: kept(), bootId: 'one' })
    expect(same.state()).toEqual({ ahead_ms: DAY_MS, doubtful: true })
    expect(same.now()).toBe(START + 60_000)
    const back = serverClock({ source: machineAt(START - 400 * DAY_MS, 10).source, kept: kept(), bootId: 'two' })
    expect(back.state().doubtful).toBe(true)
    expect(back.now()).toBe(START)
    // A server that was off for a night is no news.
    const night = machineAt(START + DAY_MS / 2, 10)
    expect(serverClock({ source: night.source, kept: kept(), bootId: 'two' }).state()).toEqual({ ahead_ms: 0, doubtful: false })
  })
})

describe('what came while the clock was wrong', () => {
  it('is at its right moment afterwards, with both clocks kept', async () => {
    const server = await startTestServer()
    const { db } = server.opened
    await db('days').insert({ id: 'd', date: '2027-05-15', version: 1, plan: '{}' })
    const wrong_ms = 400 * DAY_MS
    // The server was 400 days behind: a right device seemed to be 400 days ahead.
    const event = { kind: 'undo' as const, id: '018f2f6e-7c1a-7b3e-8c2d-1a2b3c4d5e6f', dayId: 'd', at: '2027-05-15T09:00:00.000Z' }
    const doc = JSON.stringify({ ...event, undoes: '018f2f6e-7c1a-7b3e-8c2d-1a2b3c4d5e60' })
    const received = new Date(START - wrong_ms).toISOString()
    await db('day_events').insert({ id: event.id, day_id: 'd', received_at: received, clock_ms: wrong_ms, doc })
    expect((await server.stores.dayEvents.of('d'))[0].at).toBe(received)
    await correctEvents(db, { from: START - wrong_ms - 1000, to: START - wrong_ms + 1000, shift_ms: wrong_ms })
    expect((await server.stores.dayEvents.of('d'))[0].at).toBe(event.at)
    expect(await db('day_events').first('received_at')).toEqual({ received_at: received })
    expect(await db('clock_jumps').select('shift_ms')).toEqual([{ shift_ms: wrong_ms }])
    await server.close()
  })
})
