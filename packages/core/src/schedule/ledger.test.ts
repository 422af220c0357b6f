import { describe, expect, it } from 'vitest'
import { variedDay } from '../../fixtures/generated-day.ts'
import { seededRandom } from '../units/random.ts'
import { type Board, emptyBoard, put, takeOff } from './board.ts'
import { keptBoard, lay } from './construct.ts'
import { costsOf, totalOf } from './cost.ts'
import { differenceOf, keep, ledgerOf, takeBack } from './ledger.ts'
import { modelOf } from './model.ts'
import { tryMove } from './moves.ts'
import { place } from './place.ts'

/** Everything that a board counts, in the order of nothing. */
const counted = (board: Board) => ({
  studentBusy: [...board.studentBusy],
  instructorBusy: [...board.instructorBusy],
  carBusy: [...board.carBusy],
  trackCount: [...board.trackCount],
  carsOut: [...board.carsOut],
  padBusy: [...board.padBusy],
  classroomBusy: [...board.classroomBusy],
  helmetsOut: [...board.helmetsOut],
  radiosOut: [...board.radiosOut],
  loggersOut: [...board.loggersOut],
  got: [...board.got],
  laps: [...board.laps],
  missing: board.missing,
})

const laid = (seed: number): Board => {
  const board = keptBoard(modelOf(variedDay(seed)))
  lay(board, seededRandom(seed))
  return board
}

describe('a move', () => {
  it('that is kept costs what it was priced at, and one that is taken back leaves nothing behind', () => {
    let kept = 0
    let taken = 0
    for (let seed = 1; seed <= 5; seed++) {
      const board = laid(seed)
      const ledger = ledgerOf(board, null)
      const random = seededRandom(seed + 100)
      for (let k = 0; k < 400; k++) {
        const before = k % 40 === 0 ? counted(board) : null
        const difference = tryMove(ledger, random) ? differenceOf(ledger) : null
        if (difference === null || difference > 50) {
          takeBack(ledger)
          taken++
          if (before) expect(counted(board)).toEqual(before)
        } else {
          keep(ledger, difference)
          kept++
          if (k % 20 === 0) expect(ledger.total).toBeCloseTo(totalOf(costsOf(board, null)), 6)
        }
      }
      expect(ledger.total).toBeCloseTo(totalOf(costsOf(board, null)), 6)
    }
    expect(kept).toBeGreaterThan(100)
    expect(taken).toBeGreaterThan(100)
  })
})

describe('a board', () => {
  it('counts the same whatever the order in which its sessions came', () => {
    for (let seed = 1; seed <= 5; seed++) {
      const board = laid(seed)
      const again = emptyBoard(board.model)
      for (const session of [...board.sessions].reverse()) put(again, session)
      expect(counted(again)).toEqual(counted(board))
      for (const [s, own] of again.ofStudent.entries()) expect(own.map((x) => x.at)).toEqual(board.ofStudent[s].map((x) => x.at))
      for (const session of [...again.sessions]) takeOff(again, session)
      expect(counted(again)).toEqual(counted(emptyBoard(board.model)))
    }
  })

  it('takes no session that would stand where one stands', () => {
    for (let seed = 1; seed <= 5; seed++) {
      const board = laid(seed)
      const { length } = board.sessions
      for (const session of [...board.sessions]) expect(place(board, { ...session, cars: [], leader: -1 })).toBe(false)
      expect(board.sessions).toHaveLength(length)
    }
  })
})
