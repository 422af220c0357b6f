import { Box, Typography } from '@mui/material'
import {
  type Cone,
  type Eye,
  eyeAt,
  heightAt,
  lookFrom,
  type Plan,
  placeAt,
  plannedDrive,
  project,
  type SeatDrive,
  type SeatSide,
  seatIn,
  stationInLap,
  wrapStation,
} from '@ochote/core'
import { type ReactNode, type RefObject, useEffect, useMemo, useRef, useState } from 'react'
import { say } from '../../language/say.ts'
import { figures } from '../../look/theme.tsx'
import type { LapClock } from '../drive/lap-clock.ts'
import { ProblemNote } from '../problem-note.tsx'
import { Reading } from '../reading.tsx'
import { useSize } from '../use-size.ts'
import type { SeatLayers, SeatScene } from './seat-scene.ts'
import { useRoadMesh } from './use-road-mesh.ts'
import type { Visibility } from './visibilities.ts'

/** A name in the picture at a place beside or on the road. `hiddenUntil_m`: before this distance it is not in sight. */
export type SeatLabel = { id: string; text: string; station_m: number; offset_m: number; above_m: number; hiddenUntil_m?: number }

/** Another car in the picture: where it is when the own one is somewhere after some time of its lap (station, offset in m). */
type Ghost = (station_m: number, time_s: number) => { station_m: number; offset_m: number } | null

/** Where the eye is: driven by a clock of the plan's lap, or at a station. `turned_rad`: the head, to the left positive. */
type SeatPlace = { clock: LapClock; driven?: SeatDrive; ghost?: Ghost } | { station_m: number; turned_rad?: number; standing?: boolean }

/** Where to look is asked anew after so much road (m). */
const LOOK_AGAIN_M = 4
/** Names are shown up to this far ahead (m). */
const NAMED_M = 170

type Props = {
  plan: Plan
  cones: readonly Cone[]
  at: SeatPlace
  /** Where the eye sits: with the driver unless said otherwise. */
  side?: SeatSide
  layers: SeatLayers
  visibility: Visibility
  labels?: readonly SeatLabel[]
  height: number | string
  label: string
  /** What is shown where this device cannot draw the view. */
  fallback: ReactNode
  /** Set to what takes the picture as it is now, with its names; null while nothing is drawn. */
  picture?: RefObject<(() => HTMLCanvasElement) | null>
  /** Stations at which each of a group did something, drawn on the road. */
  spread?: readonly number[] | undefined
  /** What belongs to the moment, over the foot of the picture: speed, gear, the call as it is said. */
  caption?: ReactNode
  /** What is said of the drawing, for readers who are not of the staff. */
  words?: SeatViewWords
}

const noLabels: readonly SeatLabel[] = []

type SeatViewWords = { drawing: string; lost: string; none: string }
const staffSays: SeatViewWords = {
  drawing: say`Drawing the road …`,
  lost: say`The picture was lost and comes back by itself; everything else goes on.`,
  none: say`This device cannot draw the view from the seat; here is the road from above.`,
}

/** What this device can draw: not known yet, drawn, lost for the moment, or not at all. */
type State = 'starting' | 'drawn' | 'lost' | 'none'

/** A picture with the names that lie over it, as one. */
const withNames = (drawn: HTMLCanvasElement | null, names: Iterable<HTMLElement>): HTMLCanvasElement => {
  const copy = document.createElement('canvas')
  if (!drawn) return copy
  copy.width = drawn.width
  copy.height = drawn.height
  const context = copy.getContext('2d')
  if (!context) return copy
  context.drawImage(drawn, 0, 0)
  const frame = drawn.getBoundingClientRect()
  const scale = drawn.width / Math.max(1, frame.width)
  for (const name of names) {
    if (name.style.display === 'none') continue
    const box = name.getBoundingClientRect()
    const look = getComputedStyle(name)
    const [x, y] = [(box.left - frame.left) * scale, (box.top - frame.top) * scale]
    context.fillStyle = look.backgroundColor
    context.fillRect(x, y, box.width * scale, box.height * scale)
    context.strokeStyle = look.color
    context.strokeRect(x, y, box.width * scale, box.height * scale)
    context.fillStyle = look.color
    context.font = `${Number.parseFloat(look.fontSize) * scale}px ${look.fontFamily}`
    context.textBaseline = 'middle'
    context.fillText(name.textContent ?? '', x + 4 * scale, y + (box.height * scale) / 2)
  }
  return copy
}

/** The road from the seat, drawn from mesh, cones and plan. The drawing code is loaded with the first view. */
export const SeatView = ({
  plan,
  cones,
  at,
  side = seatIn(plan.vehicle),
  layers,
  visibility,
  labels = noLabels,
  height,
  label,
  fallback,
  picture,
  spread,
  caption,
  words = staffSays,
}: Props) => {
  const mesh = useRoadMesh(plan)
  const [frame, size] = useSize<HTMLDivElement>()
  const canvas = useRef<HTMLCanvasElement>(null)
  const names = useRef(new Map<string, HTMLSpanElement>())
  const [scene, setScene] = useState<SeatScene | null>(null)
  const [state, setState] = useState<State>('starting')
  const road = mesh.data
  const driven = 'clock' in at ? at.driven : undefined
  useEffect(() => {
    const on = canvas.current
    if (!road || !on) return
    let made: SeatScene | null = null
    let wanted = true
    const lost = (event: Event): void => {
      event.preventDefault()
      setState('lost')
    }
    const back = (): void => setState('drawn')
    on.addEventListener('webglcontextlost', lost)
    on.addEventListener('webglcontextrestored', back)
    void import('./seat-scene.ts').then(({ seatScene }) => {
      if (!wanted) return
      try {
        made = seatScene(on, { plan, mesh: road, visibility, driven, spread })
        setScene(made)
        setState('drawn')
      } catch {
        setState('none')
      }
    })
    return () => {
      wanted = false
      on.removeEventListener('webglcontextlost', lost)
      on.removeEventListener('webglcontextrestored', back)
      made?.dispose()
      setScene(null)
    }
  }, [road, plan, visibility, driven, spread])
  const placed = useMemo(
    () =>
      labels.map((one) => {
        const { x_m, y_m } = placeAt(plan.circuit, one.station_m, one.offset_m)
        return { ...one, point: [x_m, y_m, heightAt(plan.circuit, one.station_m, one.offset_m) + one.above_m] as const }
      }),
    [labels, plan],
  )
  useEffect(() => {
    // Once the graphics are back everything is drawn again: what they drew before is gone.
    if (!scene || size.width === 0 || state !== 'drawn') return
    scene.resize(size.width, size.height, 'clock' in at && at.clock.playing)
    scene.show(layers)
    scene.lay(cones)
    let again = (): void => {}
    if (picture)
      picture.current = () => {
        // Read in the moment in which it is drawn: the graphics forget a picture once it is shown.
        again()
        return withNames(canvas.current, names.current.values())
      }
    let [lookedAt_m, eyes_m] = [Number.NaN, null as number | null]
    const draw = (station_m: number, eye: Eye): void => {
      again = () => draw(station_m, eye)
      if (layers.eyes && !(Math.abs(station_m - lookedAt_m) < LOOK_AGAIN_M)) {
        lookedAt_m = station_m
        eyes_m = lookFrom(plan, station_m).station_m
      }
      scene.eyesAt(layers.eyes ? eyes_m : null)
      scene.draw(eye)
      const inView = placed
        .map((one) => {
          const ahead_m = wrapStation(one.station_m - station_m, plan.circuit.length_m)
          return { one, ahead_m, point: ahead_m < NAMED_M ? project(eye, size, one.point) : null }
        })
        .sort((a, b) => a.ahead_m - b.ahead_m)
      const taken: { left: number; right: number; top: number; bottom: number }[] = []
      for (const { one, ahead_m, point } of inView) {
        const element = names.current.get(one.id)
        if (!element) continue
        element.style.display = point ? 'block' : 'none'
        if (!point) continue
        const isHidden = one.hiddenUntil_m !== undefined && ahead_m > one.hiddenUntil_m
        const text = isHidden ? say`${one.text}, hidden` : one.text
        if (element.textContent !== text) element.textContent = text
        element.style.borderStyle = isHidden ? 'dashed' : 'solid'
        // The nearest name stands where it belongs; one that would lie on it moves up.
        const half = element.offsetWidth / 2 + 2
        const [left, right] = [point.x - half, point.x + half]
        let bottom = point.y
        const inTheWay = () =>
          taken.find((t) => t.left < right && t.right > left && t.top < bottom && t.bottom > bottom - element.offsetHeight)
        for (let other = inTheWay(); other; other = inTheWay()) bottom = other.top - 1
        taken.push({ left, right, top: bottom - element.offsetHeight, bottom })
        element.style.transform = `translate(${point.x.toFixed(1)}px, ${bottom.toFixed(1)}px) translate(-50%, -100%)`
      }
    }
    if ('clock' in at)
      return at.clock.listen((time_s) => {
        const drive = at.driven ?? plannedDrive(plan)
        const station_m = stationInLap(plan.circuit, drive, time_s)
        scene.ghostAt(at.ghost?.(station_m, time_s) ?? null)
        draw(station_m, eyeAt(plan, station_m, { side, drive }))
      })
    const { station_m, turned_rad = 0, standing = false } = at
    draw(station_m, eyeAt(plan, station_m, { side, turned_rad, standing }))
    return undefined
  }, [scene, size, layers, at, side, placed, plan, cones, picture, state])
  if (state === 'none')
    return (
      <Box>
        <Typography role="status" sx={{ fontSize: 'size.note', mb: 1 }}>
          {words.none}
        </Typography>
        {fallback}
      </Box>
    )
  return (
    <Box
      ref={frame}
      sx={{
        position: 'relative',
        width: '100%',
        height,
        overflow: 'hidden',
        backgroundColor: 'background.paper',
        border: 'hair',
        borderColor: 'divider',
      }}
    >
      <canvas ref={canvas} role="img" aria-label={label} style={{ width: '100%', height: '100%', display: 'block' }} />
      {placed.map(({ id, text }) => (
        <Box
          key={id}
          component="span"
          ref={(element: HTMLSpanElement | null) => {
            if (element) names.current.set(id, element)
            else names.current.delete(id)
          }}
          sx={{
            position: 'absolute',
            left: 0,
            top: 0,
            display: 'none',
            px: 1,
            fontSize: 'size.note',
            whiteSpace: 'nowrap',
            color: 'text.primary',
            backgroundColor: 'background.paper',
            border: 'hair',
            borderColor: 'text.primary',
            pointerEvents: 'none',
          }}
        >
          {text}
        </Box>
      ))}
      {caption && (
        <Box
          sx={{
            position: 'absolute',
            left: 0,
            bottom: 0,
            px: 3,
            py: 1,
            maxWidth: 1,
            fontSize: 'size.head',
            fontWeight: 650,
            color: 'text.primary',
            backgroundColor: 'background.paper',
            ...figures,
          }}
        >
          {caption}
        </Box>
      )}
      {(state === 'starting' || mesh.isPending) && (
        <Box sx={{ position: 'absolute', inset: 0, p: 3 }}>
          <Reading what={words.drawing} error={mesh.error} />
        </Box>
      )}
      {state === 'lost' && (
        <Typography role="status" sx={{ position: 'absolute', left: 8, top: 8, px: 2, backgroundColor: 'background.paper' }}>
          {words.lost}
        </Typography>
      )}
      <ProblemNote error={mesh.error} />
    </Box>
  )
}
