import type { Circuit } from './circuit.ts'
import { type CornerEdit, editCorners } from './corner-edits.ts'
import { type Corner, findCorners } from './corners.ts'
import { findGround, type GroundItem } from './ground.ts'
import type { Pin } from './pin.ts'

/** Where plans are made: a circuit, its corners and what lies on its ground, computed and surveyed; places that lines have to go through. */
export type Venue = { circuit: Circuit; corners: readonly Corner[]; ground: readonly GroundItem[]; pins?: readonly Pin[] }

/** What people know of a circuit beside its survey. */
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
