import { wrapTime } from '@ochote/core'
import { useEffect, useMemo, useRef, useState } from 'react'

/** A clock that plays a lap: its time runs by frames, not by renders; listeners hear every frame. */
export type LapClock = {
  playing: boolean
  rate: number
  /** The lap's time now (s). */
  now: () => number
  /** The lap's time (s) at a moment of the page (ms), such as that of a touch, which comes between two frames. */
  at: (stamp_ms: number) => number
  play: (playing: boolean) => void
  seek: (time_s: number) => void
  setRate: (rate: number) => void
  listen: (onFrame: (time_s: number) => void) => () => void
}

/** A longer gap between frames means that the page was suspended; the clock then resumes where it stopped (s). */
const LONGEST_FRAME_S = 0.25

/** The time after a frame of so many seconds, round the lap. The first frame may have begun before the clock was started. */
export const advance = (time_s: number, frame_s: number, rate: number, lapTime_s: number): number =>
  (time_s + Math.min(Math.max(0, frame_s), LONGEST_FRAME_S) * rate) % lapTime_s

/** The time of a moment so long after the last frame, or just before it (s). */
export const betweenFrames = (time_s: number, after_s: number, rate: number, lapTime_s: number): number =>
  wrapTime(time_s + Math.min(Math.max(-LONGEST_FRAME_S, after_s), LONGEST_FRAME_S) * rate, lapTime_s)

/** Times that differ by no more are the same (s): taken round the lap, a time loses its last digits. */
const SAME_S = 1e-9
/** The most that a frame advances at the fastest rate (s); more is a jump. */
const LONGEST_STEP_S = 4.01 * LONGEST_FRAME_S

/**
 * Tells, frame by frame from a time on, which of some times (s) of a lap was reached. The one where it begins is not told, nor is one
 * that was jumped over.
 */
export const reachedFrom = (times: readonly number[], from_s: number, lapTime_s: number): ((now_s: number) => number | undefined) => {
  let before = from_s
  return (now_s) => {
    const since = before
    before = now_s
    const step = wrapTime(now_s - since, lapTime_s)
    if (step > LONGEST_STEP_S) return undefined
    return times.find((t) => {
      const after = wrapTime(t - since, lapTime_s)
      return after > SAME_S && after <= step + SAME_S
    })
  }
}

/** Plays a lap of a given time round and round. */
export const useLapClock = (lapTime_s: number, onLap?: () => void): LapClock => {
  const time = useRef(0)
  /** When the last frame was (ms). */
  const framed = useRef(0)
  const listeners = useRef(new Set<(time_s: number) => void>())
  const lapDone = useRef(onLap)
  lapDone.current = onLap
  const [playing, setPlaying] = useState(false)
  // Stops the clock before the page is rendered anew, which takes a moment on a busy machine.
  const running = useRef(false)
  const [rate, setRate] = useState(1)
  useEffect(() => {
    if (!playing || !(lapTime_s > 0)) return
    running.current = true
    let last = performance.now()
    framed.current = last
    let frame = requestAnimationFrame(function tick(at) {
      if (!running.current) return
      const before = time.current
      time.current = advance(before, (at - last) / 1000, rate, lapTime_s)
      last = at
      framed.current = at
      if (time.current < before) lapDone.current?.()
      for (const listener of listeners.current) listener(time.current)
      frame = requestAnimationFrame(tick)
    })
    return () => cancelAnimationFrame(frame)
  }, [playing, rate, lapTime_s])
  return useMemo(
    () => ({
      playing,
      rate,
      play: (on) => {
        running.current = on
        setPlaying(on)
      },
      setRate,
      now: () => time.current,
      at: (stamp_ms) => (playing ? betweenFrames(time.current, (stamp_ms - framed.current) / 1000, rate, lapTime_s) : time.current),
      seek: (time_s) => {
        time.current = wrapTime(time_s, lapTime_s)
        for (const listener of listeners.current) listener(time.current)
      },
      listen: (onFrame) => {
        listeners.current.add(onFrame)
        onFrame(time.current)
        return () => listeners.current.delete(onFrame)
      },
    }),
    [playing, rate, lapTime_s],
  )
}

/** The clock's time as state, at most so often (ms), for words beside the drawing. */
export const useClockTime = (clock: LapClock, every_ms = 150): number => {
  const [time_s, setTime] = useState(clock.now())
  useEffect(() => {
    let shown = 0
    return clock.listen((now_s) => {
      const at = performance.now()
      if (at - shown < every_ms) return
      shown = at
      setTime(now_s)
    })
  }, [clock, every_ms])
  return time_s
}
