import { describe, expect, it } from 'vitest'
import { syncInWords } from './sync-state.ts'

const right = { waiting: 0, refused: [], clockAhead_s: 0, room: 'enough' as const, signedOut: false }

describe('how a device stands to the server', () => {
  it('is one short word when all is well', () => {
    expect(syncInWords(right)).toEqual(['all sent'])
    expect(syncInWords({ ...right, waiting: 3 })).toEqual(['3 saved here, not sent yet'])
  })

  it('claims nothing before this device has counted what waits', () => {
    expect(syncInWords({ ...right, waiting: null })).toEqual(['checking what is not sent yet …'])
  })

  it('says what was refused, a wrong clock and a full device, each with its word', () => {
    const refused = [{ id: '1', title: 'This run does not exist any more.', remedy: '' }]
    expect(syncInWords({ ...right, refused })).toContain('1 refused: This run does not exist any more.')
    expect(syncInWords({ ...right, clockAhead_s: -43.2 })).toContain('clock 43 s behind, corrected')
    expect(syncInWords({ ...right, waiting: 2, signedOut: true })).toEqual(['2 saved here, not sent yet', 'signed out: sign in to send it'])
    expect(syncInWords({ ...right, room: 'little' })[1]).toContain('nearly full')
    expect(syncInWords({ ...right, room: 'none' })[1]).toContain('was not saved')
  })
})
