import type { ServerState } from '@ochote/contract'
import { useQuery } from '@tanstack/react-query'
import { say } from '../../language/say.ts'
import { serverStateQuery } from './queries.ts'

/** Whole gigabytes with one figure behind the point, or megabytes below one. */
const sizeInWords = (bytes: number): string => (bytes >= 1e9 ? `${(bytes / 1e9).toFixed(1)} GB` : `${Math.round(bytes / 1e6)} MB`)

/** A difference of clocks in the largest unit that says it. */
const spanInWords = (ms: number): string => {
  const s = Math.abs(ms) / 1000
  const sign = ms < 0 ? '−' : '+'
  if (s >= 86_400) return say`${sign}${Math.round(s / 86_400)} days`
  return s >= 3600 ? say`${sign}${(s / 3600).toFixed(1)} hours` : say`${sign}${Math.round(s / 60)} minutes`
}

/** What every screen has to say of the server's disk and clock; nothing where all is well. */
export const serverInWords = ({ storage, held, clock, backupFailed }: ServerState): string[] => {
  const words: string[] = []
  if (storage.problem === 'disk-full') words.push(say`The server’s disk is full: nothing new is kept there; this device keeps its own`)
  if (storage.problem === 'disk-read-only')
    words.push(say`The server cannot write to its disk: nothing new is kept there; this device keeps its own`)
  if (storage.problem && held.lines > 0) words.push(say`${held.lines} positions wait in the server’s memory`)
  if (held.dropped > 0) words.push(say`${held.dropped} positions found no room and are lost`)
  if (!storage.problem && storage.low && storage.free_bytes !== null)
    words.push(say`The server’s disk is nearly full (${sizeInWords(storage.free_bytes)} free): make room before the next day`)
  if (backupFailed && !storage.problem) words.push(say`The last backup could not be made: look at School, Safekeeping`)
  if (clock.ahead_ms !== 0)
    words.push(
      clock.doubtful
        ? say`The clock of the server’s machine was set by ${spanInWords(clock.ahead_ms)}: times go on as before until two devices say which is right`
        : say`The clock of the server’s machine is wrong by ${spanInWords(clock.ahead_ms)}: set it; times are kept right meanwhile`,
    )
  return words
}

/** What is wrong with the server's disk or clock, as every screen says it. */
export const useServerWords = (): string[] => {
  const state = useQuery(serverStateQuery)
  return state.data ? serverInWords(state.data) : []
}
