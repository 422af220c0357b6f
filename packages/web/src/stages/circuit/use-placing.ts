import type { CircuitNotes } from '@ochote/contract'
import type { GroundItem } from '@ochote/core'
import { useState } from 'react'
import { v7 as uuid } from 'uuid'
import { groundWords } from '../../shared/marks/ground-words.ts'
import type { Placing } from './ground-table.tsx'

/** A ground item as it is first placed: a stretch from `from_m` to `to_m`, or one place. */
const newItem = (kind: GroundItem['kind'], side: 'left' | 'right', from_m: number, to_m: number): GroundItem => ({
  id: uuid(),
  kind,
  name: groundWords[kind].name,
  side,
  from_m,
  to_m,
  ...(groundWords[kind].band ? { near_m: 0, far_m: 1.5 } : {}),
  ...(kind === 'run-off' ? { runOff: { surface: 'grass', length_m: 30 } } : {}),
  ...(kind === 'reference' ? { reference: 'post' } : {}),
})

/** Placing things on the ground by clicks: one click for a place, two for a stretch. `place` is undefined while nothing is being placed. */
export const usePlacing = (notes: CircuitNotes | undefined, change: (notes: CircuitNotes) => void, moveTo: (station_m: number) => void) => {
  const [placing, setPlacing] = useState<Placing | null>(null)
  const place = (station_m: number, side: 'left' | 'right'): void => {
    if (!placing || !notes) return
    const { kind, from_m } = placing
    moveTo(station_m)
    if (groundWords[kind].stretch && from_m === null) {
      setPlacing({ kind, from_m: station_m })
      return
    }
    change({ ...notes, ground: [...notes.ground, newItem(kind, side, from_m ?? station_m, station_m)] })
    setPlacing({ kind, from_m: null })
  }
  return { placing, setPlacing, place: placing ? place : undefined }
}
