import { alignTrends } from '@ochote/core'
import { say } from '../../language/say.ts'

/** Waits for an event of a media element, or for its error. */
const once = (media: HTMLMediaElement, name: string): Promise<void> =>
  new Promise((resolve, reject) => {
    const clean = (): void => {
      media.removeEventListener(name, done)
      media.removeEventListener('error', failed)
    }
    const done = (): void => {
      clean()
      resolve()
    }
    const failed = (): void => {
      clean()
      reject(new Error(say`The browser cannot play this video. Save it as MP4 (H.264) or WebM and open it again; nothing else is lost.`))
    }
    media.addEventListener(name, done)
    media.addEventListener('error', failed)
  })

/** Opens a video file where it lies, far enough to know how long it is. Recordings that do not say are asked at their end. */
export const loadVideo = async (video: HTMLVideoElement, url: string): Promise<void> => {
  const loaded = once(video, 'loadedmetadata')
  video.src = url
  await loaded
  if (Number.isFinite(video.duration)) return
  const durationKnown = once(video, 'durationchange')
  video.currentTime = 1e9
  await durationKnown
  await seekTo(video, 0)
}

/** Moves a video and waits for the picture. */
export const seekTo = async (video: HTMLVideoElement, time_s: number): Promise<void> => {
  const there = once(video, 'seeked')
  video.currentTime = Math.min(Math.max(0, time_s), video.duration || time_s)
  await there
}

/** Pictures are compared this small (px): how much moves is seen there too. */
const SMALL = { width: 64, height: 36 }
/** Two pictures so far apart in time show how fast the road goes by (s). */
const APART_S = 0.08
const MAX_SAMPLES = 400

/** Spacing of the values of a trend (s) for a video of some length. */
const trendInterval = (duration_s: number): number => Math.max(0.5, duration_s / MAX_SAMPLES)

/**
 * How much moves in a video over its length: the mean difference of two pictures shortly after each other, at an even
 * interval. `onStep` hears the share that is done; an aborted signal stops it.
 */
export const motionTrend = async (
  url: string,
  onStep: (share: number) => void,
  signal: AbortSignal,
): Promise<{ motion: Float64Array; interval_s: number }> => {
  const video = document.createElement('video')
  video.muted = true
  await loadVideo(video, url)
  const canvas = document.createElement('canvas')
  Object.assign(canvas, SMALL)
  const context = canvas.getContext('2d', { willReadFrequently: true })
  if (!context) throw new Error(say`This browser cannot read pictures of a video.`)
  const picture = async (time_s: number): Promise<Uint8ClampedArray> => {
    await seekTo(video, time_s)
    context.drawImage(video, 0, 0, SMALL.width, SMALL.height)
    return context.getImageData(0, 0, SMALL.width, SMALL.height).data
  }
  const interval_s = trendInterval(video.duration)
  const n = Math.max(0, Math.floor((video.duration - APART_S) / interval_s))
  const motion = new Float64Array(n)
  for (let i = 0; i < n; i++) {
    signal.throwIfAborted()
    const before = await picture(i * interval_s)
    const after = await picture(i * interval_s + APART_S)
    let sum = 0
    for (let k = 0; k < before.length; k += 4) sum += Math.abs(before[k] - after[k]) + Math.abs(before[k + 1] - after[k + 1])
    motion[i] = sum
    onStep((i + 1) / n)
  }
  video.removeAttribute('src')
  return { motion, interval_s }
}

/** Speed of a log at an even interval, from pieces of laps: their begin in the log's time (s), their times and speeds. */
export const speedTrend = (
  laps: readonly { start_s: number; time_s: Float64Array; speed_mps: Float64Array; lapTime_s: number }[],
  interval_s: number,
): { from_s: number; speed: Float64Array } => {
  const from_s = Math.min(...laps.map((l) => l.start_s))
  const to_s = Math.max(...laps.map((l) => l.start_s + l.lapTime_s))
  const speed = new Float64Array(Math.max(0, Math.floor((to_s - from_s) / interval_s)))
  for (const lap of laps) {
    let k = 0
    for (let i = Math.ceil((lap.start_s - from_s) / interval_s); i < speed.length; i++) {
      const t = from_s + i * interval_s - lap.start_s
      if (t > lap.lapTime_s) break
      while (k + 1 < lap.time_s.length && lap.time_s[k + 1] <= t) k++
      speed[i] = lap.speed_mps[k]
    }
  }
  return { from_s, speed }
}

/** Less alike than this is no place; places this near to the best are as good (share). */
const MIN_ALIKE = 0.4
const AS_GOOD = 0.12

/** A place in the log at which a video may begin (s of the log's time), and how alike they are there. */
export type Proposal = { start_s: number; alike: number }

/** Candidate starts of a video in the log's time, by its trend of motion, the best match first; several where laps are alike. */
export const proposeStarts = (motion: Float64Array, log: { from_s: number; speed: Float64Array }, interval_s: number): Proposal[] => {
  const places = alignTrends(motion, log.speed, interval_s)
  return places
    .filter(({ alike }) => alike > MIN_ALIKE && alike > (places[0]?.alike ?? 0) - AS_GOOD)
    .map(({ lag_s, alike }) => ({ start_s: log.from_s + lag_s, alike }))
}
