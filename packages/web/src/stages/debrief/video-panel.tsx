import { Box, Button, Stack, Typography } from '@mui/material'
import type { Debrief } from '@ochote/contract'
import { atStation, type Plan } from '@ochote/core'
import { useEffect, useRef, useState } from 'react'
import { say } from '../../language/say.ts'
import { metres } from '../../language/staff-units.ts'
import type { LapClock } from '../../shared/drive/lap-clock.ts'
import { FileChoice } from '../../shared/file-choice.tsx'
import { ProblemNote } from '../../shared/problem-note.tsx'
import { useLapSelection } from '../../shared/selection/lap-selection.tsx'
import { grabStill, StillBoard } from './still.tsx'
import type { ChartLap } from './trace-columns.ts'
import { useTraces } from './use-traces.ts'
import { loadVideo, motionTrend, type Proposal, proposeStarts, seekTo, speedTrend } from './video-sync.ts'

type Props = {
  plan: Plan
  debrief: Debrief
  lap: number
  driven: ChartLap
  clock: LapClock
  /** Keeps a still; absent for whoever only reads. */
  onNote?: (note: { station_m: number; text: string; pictureId: string }) => void
}

/** A picture lasts so long where the video does not tell (s). */
const FRAME_S = 1 / 25
/** A playing video is set right when it is off by more than this (s). */
const OFF_S = 0.15

/** An on-board video beside the log: it stays on the viewer's disk, is tied to the log by a moment, and follows the cursor. */
export const VideoPanel = (props: Props) => {
  const [file, setFile] = useState<{ chosen: File; url: string } | null>(null)
  useEffect(
    () => () => {
      if (file) URL.revokeObjectURL(file.url)
    },
    [file],
  )
  return (
    <Box component="section" aria-label={say`Video`} sx={{ mb: 3 }}>
      <Stack direction="row" spacing={2} sx={{ alignItems: 'center' }}>
        <Typography component="h3" sx={{ fontWeight: 680 }}>
          {say`Video`}
        </Typography>
        <FileChoice
          label={say`Open a video beside the log`}
          accept="video/*"
          file={file?.chosen ?? null}
          onChoose={(chosen) => setFile(chosen && { chosen, url: URL.createObjectURL(chosen) })}
        />
        <Typography variant="text" color="text.secondary">
          {say`It stays on this device; only stills that you keep are stored.`}
        </Typography>
      </Stack>
      {file && <Opened key={file.url} url={file.url} {...props} />}
    </Box>
  )
}

const Opened = ({ url, plan, debrief, lap, driven, clock, onNote }: Props & { url: string }) => {
  const video = useRef<HTMLVideoElement>(null)
  /** The log's time at which the video begins (s); null until it is known. */
  const [start_s, setStart] = useState<number | null>(null)
  const [still, setStill] = useState<{ canvas: HTMLCanvasElement; station_m: number } | null>(null)
  const [error, setError] = useState<Error | null>(null)
  const { station_m } = useLapSelection()
  const lapStart_s = debrief.laps.find((l) => l.lap === lap)?.start_s ?? 0
  const frame_s = useFrameLength(video)
  useEffect(() => {
    if (video.current) loadVideo(video.current, url).catch((e: unknown) => setError(e as Error))
  }, [url])
  useEffect(() => {
    const node = video.current
    if (!node || start_s === null) return
    const wanted = (time_s: number): number => lapStart_s + time_s - start_s
    if (!clock.playing) node.pause()
    const stop = clock.listen((time_s) => {
      const at = wanted(time_s)
      if (at < 0 || at > node.duration) {
        node.pause()
        return
      }
      if (!clock.playing) {
        if (Math.abs(node.currentTime - at) > FRAME_S / 2) node.currentTime = at
        return
      }
      if (node.paused) void node.play().catch(() => undefined)
      node.playbackRate = clock.rate
      if (Math.abs(node.currentTime - at) > OFF_S * clock.rate) node.currentTime = at
    })
    return () => {
      stop()
      node.pause()
    }
  }, [clock, start_s, lapStart_s])

  const step = (frames: number): void => {
    if (start_s === null) {
      if (video.current) void seekTo(video.current, video.current.currentTime + frames * frame_s)
    } else clock.seek(clock.now() + frames * frame_s)
  }
  const here_m = station_m ?? 0
  const name = (): void => {
    if (!video.current) return
    setStart(lapStart_s + atStation(plan.circuit, driven.time_s, here_m) - video.current.currentTime)
  }
  return (
    <Stack spacing={2} sx={{ mt: 2 }}>
      <ProblemNote error={error} />
      <Box sx={{ display: still ? 'none' : 'block' }}>
        <video
          ref={video}
          muted
          playsInline
          controls={start_s === null}
          preload="auto"
          style={{ width: '100%', maxHeight: 340, background: '#000' }}
          aria-label={say`Video of the drive`}
        />
      </Box>
      {!still && (
        <Stack direction="row" spacing={2} useFlexGap sx={{ flexWrap: 'wrap', alignItems: 'center' }}>
          <Button size="small" variant="outlined" onClick={() => step(-1)}>
            {say`Frame back`}
          </Button>
          <Button size="small" variant="outlined" onClick={() => step(1)}>
            {say`Frame on`}
          </Button>
          <Button size="small" variant={start_s === null ? 'contained' : 'outlined'} disabled={station_m === null} onClick={name}>
            {station_m === null ? say`Move the cursor to a known place` : say`This picture is at ${metres(here_m)} of lap ${lap}`}
          </Button>
          <Propose debrief={debrief} lap={lap} url={url} start_s={start_s} onPropose={setStart} onError={setError} />
          {onNote && (
            <Button
              size="small"
              variant="outlined"
              onClick={() => {
                clock.play(false)
                if (video.current) setStill({ canvas: grabStill(video.current), station_m: here_m })
              }}
            >
              {say`Draw on this frame`}
            </Button>
          )}
          <Typography variant="text" color="text.secondary" className="figures">
            {start_s === null
              ? say`Not synced yet: find one spot you recognise in the video and put the cursor on it.`
              : say`Tied: the video begins at ${(start_s - lapStart_s).toFixed(2)} s of lap ${lap}.`}
          </Typography>
        </Stack>
      )}
      {still && onNote && (
        <StillBoard
          still={still.canvas}
          runId={debrief.runId}
          place={say`Lap ${lap}, ${metres(still.station_m)}`}
          onLeave={() => setStill(null)}
          onKept={(pictureId, text) => {
            onNote({ station_m: still.station_m, text, pictureId })
            setStill(null)
          }}
        />
      )}
    </Stack>
  )
}

/** Duration of one frame of a video (s), measured as frames are shown; the usual one until some were. */
const useFrameLength = (video: React.RefObject<HTMLVideoElement | null>): number => {
  const [frame_s, setFrame] = useState(FRAME_S)
  useEffect(() => {
    const node = video.current
    if (!node || !('requestVideoFrameCallback' in node)) return
    let last = -1
    let min = 1
    let handle = node.requestVideoFrameCallback(function shown(_now, { mediaTime }) {
      const apart = mediaTime - last
      if (!node.paused && last >= 0 && apart > 0.004 && apart < min) {
        min = apart
        setFrame(apart)
      }
      last = mediaTime
      handle = node.requestVideoFrameCallback(shown)
    })
    return () => node.cancelVideoFrameCallback(handle)
  }, [video])
  return frame_s
}

/** The lap in which a moment of the log lies, and the time in it. */
const inLap = (debrief: Debrief, log_s: number): string => {
  const lap = debrief.laps.findLast((l) => l.start_s <= log_s) ?? debrief.laps[0]
  return lap ? say`lap ${lap.lap}, ${(log_s - lap.start_s).toFixed(1)} s` : `${log_s.toFixed(1)} s`
}

/** Proposes where the video belongs, by how fast the road goes by in it against the speed of the log; laps alike are all offered. */
const Propose = ({
  debrief,
  lap,
  url,
  start_s,
  onPropose,
  onError,
}: {
  debrief: Debrief
  lap: number
  url: string
  start_s: number | null
  onPropose: (start_s: number) => void
  onError: (error: Error | null) => void
}) => {
  const [share, setShare] = useState<number | null>(null)
  const [found, setFound] = useState<Proposal[] | null>(null)
  const stop = useRef<AbortController | null>(null)
  const [laps] = useState(() => debrief.laps.map((l) => l.lap))
  const traces = useTraces(debrief.runId, laps)
  useEffect(() => () => stop.current?.abort(), [])
  const search = async (): Promise<void> => {
    stop.current = new AbortController()
    onError(null)
    setFound(null)
    setShare(0)
    try {
      const { motion, interval_s } = await motionTrend(url, setShare, stop.current.signal)
      const pieces = debrief.laps.flatMap((l) => {
        const trace = traces.get(l.lap)
        return trace ? [{ start_s: l.start_s, ...trace }] : []
      })
      const places = pieces.length > 0 ? proposeStarts(motion, speedTrend(pieces, interval_s), interval_s) : []
      const from = debrief.laps.find((l) => l.lap === lap)
      const here = from && places.find((p) => p.start_s >= from.start_s && p.start_s < from.start_s + from.time_s)
      setFound(places)
      const first = here ?? places[0]
      if (first) onPropose(first.start_s)
    } catch (error) {
      if (!stop.current.signal.aborted) onError(error as Error)
    } finally {
      setShare(null)
    }
  }
  return (
    <>
      {share === null ? (
        <Button size="small" variant="outlined" disabled={traces.size === 0} onClick={() => void search()}>
          {say`Sync by motion`}
        </Button>
      ) : (
        <Button size="small" variant="outlined" onClick={() => stop.current?.abort()}>
          {say`Searching, ${Math.round(100 * share)}% – stop`}
        </Button>
      )}
      {found && (
        <Stack
          direction="row"
          spacing={2}
          useFlexGap
          sx={{ flexWrap: 'wrap', alignItems: 'center' }}
          role="group"
          aria-label={say`Where it may begin`}
        >
          <Typography variant="text">
            {found.length === 0
              ? say`Nothing in it fits the log: name a known place instead.`
              : found.length === 1
                ? say`It may begin here; check it at one place:`
                : say`Laps are alike: it may begin at any of these. Check one place:`}
          </Typography>
          {found.map((p) => (
            <Button
              key={p.start_s}
              size="small"
              variant="outlined"
              aria-pressed={p.start_s === start_s}
              onClick={() => onPropose(p.start_s)}
              className="figures"
            >
              {say`${inLap(debrief, p.start_s)} (${Math.round(100 * p.alike)}% alike)`}
            </Button>
          ))}
        </Stack>
      )}
    </>
  )
}
