import type { Circuit } from './circuit.ts'
import { type CornerEdit, editCorners } from './corner-edits.ts'
import { type Corner, findCorners } from './corners.ts'
import { findGround, type GroundItem } from './ground.ts'
import type { Pin } from './pin.ts'

/** A circuit as plans use it: computed from its survey, with its corners, what lies on its ground, and places that lines have to pass. */
export type Venue = { circuit: Circuit; corners: readonly Corner[]; ground: readonly GroundItem[]; pins?: readonly Pin[] }

/** People's notes on a circuit beside its survey. */
export type VenueNotes = {
  cornerNames?: Readonly<Record<string, string>>
  cornerEdits?: readonly CornerEdit[]
  ground?: readonly GroundItem[]
  pins?: readonly Pin[] | undefined
}

/** A venue: corners found and edited and named, ground found and noted. */
export const makeVenue = (circuit: Circuit, notes: VenueNotes = {}): Venue => ({
  circuit,
  corners: editCorners(circuit, findCorners(circuit), notes.cornerEdits ?? []).map((c) => ({
    ...c,
    name: notes.cornerNames?.[c.id] ?? c.name,
  })),
  ground: [...findGround(circuit), ...(notes.ground ?? [])],
  pins: notes.pins ?? [],
})
