import type { Cone, GroundItem, Mark } from '@ochote/core'
import type { LiveDay } from '../data/live/live-store.ts'

/** A flag under the road, or an arrow along it to another station. */
export type BandNote = { station_m: number; to_m?: number | null; label: string; tone: 'own' | 'danger' }

/** Something that is said or done over a stretch of the lap, drawn on the road, with the mark that it is for. */
export type BandSpan = {
  id: string
  from_m: number
  to_m: number
  mark_m: number
  label: string
  tone: 'said' | 'locked' | 'lost'
}

/** A column in the strip beneath the road; `range` says in words what its least and greatest value are, `ends` in short at the axis. */
export type Strip = { id: string; column: Float64Array; range: string; ends?: { low: string; high: string } }

/** Layers over the road of a plan, on the band and on the ground alike. */
export type RoadLayers = {
  marks?: readonly Mark[]
  cones?: readonly Cone[]
  /** Another path over the road, e.g. a driven lap. */
  otherOffset_m?: Float64Array
  /** More paths over the road, thin, e.g. lines by other methods. */
  overlays?: readonly { id: string; offset_m: Float64Array }[]
  /** Hazards, run-offs, references and posts at their side of the road. */
  ground?: readonly GroundItem[]
  car_m?: number | null
  /** On the band only: a stretch that is spoken of. */
  lit?: { from_m: number; to_m: number }
  /** All running cars, drawn as they move. */
  live?: LiveDay
  /** Initials by run, for cars whose number two runs share. */
  initials?: ReadonlyMap<string, string>
  /** Small flags at stations, under the road of the band and beside that of the ground, e.g. findings, flags and incidents. */
  notes?: readonly BandNote[]
  /** On the band only: columns in the strip beneath the road instead of the speed, up to four. */
  strips?: readonly Strip[]
  /** On the band only: what is said, over the road, with its mark. */
  spans?: readonly BandSpan[]
  selectedSpan?: string | null
}

/** Takes clicks instead of the selection: where on the lap, and on which half of the road. */
export type PickPlace = (station_m: number, side: 'left' | 'right') => void
