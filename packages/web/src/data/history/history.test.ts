import { describe, expect, it } from 'vitest'
import { pushHistory, redoHistory, startHistory, undoHistory } from './history.ts'

describe('undo and redo', () => {
  it('go back and on again, and forget the taken-back steps after a new one', () => {
    let history = pushHistory(pushHistory(startHistory('a'), 'b'), 'c')
    history = undoHistory(undoHistory(history))
    expect(history.now).toBe('a')
    expect(undoHistory(history)).toBe(history)
    history = redoHistory(history)
    expect(history.now).toBe('b')
    history = pushHistory(history, 'd')
    expect(redoHistory(history)).toBe(history)
    expect(undoHistory(history).now).toBe('b')
  })

  it('keep the last hundred steps', () => {
    let history = startHistory(0)
    for (let i = 1; i <= 150; i++) history = pushHistory(history, i)
    expect(history.past).toHaveLength(100)
    expect(history.past[0]).toBe(50)
  })
})
