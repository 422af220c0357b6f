import { api } from '@ochote/contract'
import type { Request } from 'express'
import { describe, expect, it } from 'vitest'
import { ofOneProcess } from '../db/present.ts'
import type { Identity } from './identity.ts'
import { uploadGate } from './upload-gate.ts'

const MB = 1024 ** 2
const disk = (free_bytes: number | null = 100_000 * MB) => ({ check: async () => ({ problem: null, low: false, free_bytes }) })
const somebody = (key: string): Identity => ({ key, account: null, dayId: null })
const request = (length: number | undefined, token = 'a'): Request =>
  ({ headers: length === undefined ? {} : { 'content-length': String(length) }, params: { token } }) as unknown as Request

/** A file that stays on its way until it is let go. */
const onItsWay = (gate: ReturnType<typeof uploadGate>, endpoint: Parameters<typeof gate.during>[0], key: string, req = request(MB)) => {
  let letGo = (): void => {}
  const held = new Promise<void>((resolve) => {
    letGo = resolve
  })
  return { done: gate.during(endpoint, somebody(key), req, () => held), letGo }
}

describe('files on their way in', () => {
  it('are one at a time by a link, three by an account, eight altogether', async () => {
    const gate = uploadGate(64 * MB, disk(), ofOneProcess())
    const link = onItsWay(gate, api.portalSendLog, 'address 1')
    await expect(gate.during(api.portalSendLog, somebody('address 2'), request(MB), async () => 1)).rejects.toMatchObject({
      code: 'too-busy',
    })
    const own = ['a', 'a', 'a'].map((key) => onItsWay(gate, api.uploadLog, key))
    await expect(gate.during(api.uploadLog, somebody('a'), request(MB), async () => 1)).rejects.toMatchObject({ status: 429 })
    const others = ['b', 'c', 'd', 'e'].map((key) => onItsWay(gate, api.uploadLog, key))
    await expect(gate.during(api.uploadLog, somebody('f'), request(MB), async () => 1)).rejects.toMatchObject({ code: 'too-busy' })
    for (const one of [link, ...own, ...others]) one.letGo()
    await Promise.all([link, ...own, ...others].map((one) => one.done))
    expect(await gate.during(api.uploadLog, somebody('f'), request(MB), async () => 'in')).toBe('in')
  })

  it('have a size by what they are', async () => {
    const gate = uploadGate(64 * MB, disk(), ofOneProcess())
    const limitOf = (endpoint: Parameters<typeof gate.during>[0]) =>
      gate.during(endpoint, somebody('a'), request(1), async (limit) => limit / MB)
    expect(await limitOf(api.uploadLog)).toBe(64)
    expect(await limitOf(api.importVehicles)).toBe(16)
    expect(await limitOf(api.importSchool)).toBe(2048)
  })

  it('find room on the disk for three times their size, or are not taken', async () => {
    const little = uploadGate(64 * MB, disk(300 * MB), ofOneProcess())
    await expect(little.during(api.uploadLog, somebody('a'), request(20 * MB), async () => 1)).rejects.toMatchObject({ code: 'disk-full' })
    expect(await little.during(api.uploadLog, somebody('a'), request(10 * MB), async () => 1)).toBe(1)
    // One that does not say how long it is may become as large as its kind allows.
    await expect(little.during(api.uploadLog, somebody('a'), request(undefined), async () => 1)).rejects.toMatchObject({ status: 507 })
    // A disk that cannot be asked stops nobody.
    expect(
      await uploadGate(64 * MB, disk(null), ofOneProcess()).during(api.uploadLog, somebody('a'), request(undefined), async () => 1),
    ).toBe(1)
  })

  it('come to 400 MB a day by one link, and not from it any more then', async () => {
    const gate = uploadGate(64 * MB, disk(), ofOneProcess())
    const send = (token: string) => gate.during(api.portalSendLog, somebody('x'), request(60 * MB, token), async () => 1)
    for (let k = 0; k < 6; k++) await send('a')
    await expect(send('a')).rejects.toMatchObject({ code: 'too-many-logs' })
    expect(await send('b')).toBe(1)
  })

  it('leave their place free however they end', async () => {
    const gate = uploadGate(64 * MB, disk(), ofOneProcess())
    for (let k = 0; k < 20; k++)
      await expect(gate.during(api.uploadLog, somebody('a'), request(1), () => Promise.reject(new Error('cut off')))).rejects.toThrow(
        'cut off',
      )
    expect(await gate.during(api.uploadLog, somebody('a'), request(1), async () => 1)).toBe(1)
  })
})
