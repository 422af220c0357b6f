import type { Circuit } from './circuit.ts'
import { type Corner, describeSpan } from './corners.ts'
import { distanceAhead, isWithin, wrapStation } from './station.ts'

/**
 * A change to the corners that were found, bound to a station inside the corner that it changes: split there, merge with
 * the corner at `to_m`, give it new limits, leave it out, or add one that was not found.
 */
export type CornerEdit =
  | { kind: 'split'; at_m: number }
  | { kind: 'merge'; at_m: number; to_m: number }
  | { kind: 'move'; at_m: number; start_m: number; end_m: number }
  | { kind: 'remove'; at_m: number }
  | { kind: 'add'; start_m: number; end_m: number }

/**
 * Corners after a list of edits, in order of travel. Ids of untouched corners stay; a split one gives `T3a` and `T3b`, a
 * merge keeps the first id, an added one counts on from the last. Edits whose station lies in no corner change nothing.
 */
export const editCorners = (circuit: Circuit, found: readonly Corner[], edits: readonly CornerEdit[]): Corner[] => {
  let corners = [...found]
  const at = (s_m: number): number => corners.findIndex((c) => isWithin(s_m, c.start_m, c.end_m, circuit.length_m))
  const span = (start_m: number, end_m: number, id: string, name: string): Corner => ({
    ...describeSpan(circuit, start_m, end_m),
    id,
    name,
  })
  for (const edit of edits) {
    if (edit.kind === 'add') {
      const numbers = corners.map((c) => Number.parseInt(c.id.slice(1), 10))
      const id = `T${Math.max(0, ...numbers) + 1}`
      corners.push(span(edit.start_m, edit.end_m, id, id))
    } else {
      const k = at(edit.at_m)
      if (k < 0) continue
      const corner = corners[k]
      if (edit.kind === 'remove') corners.splice(k, 1)
      else if (edit.kind === 'move') corners[k] = span(edit.start_m, edit.end_m, corner.id, corner.name)
      else if (edit.kind === 'split') {
        const before = wrapStation(edit.at_m - circuit.step_m, circuit.length_m)
        corners.splice(
          k,
          1,
          span(corner.start_m, before, `${corner.id}a`, `${corner.name}a`),
          span(edit.at_m, corner.end_m, `${corner.id}b`, `${corner.name}b`),
        )
      } else {
        const other = at(edit.to_m)
        if (other < 0 || other === k) continue
        const inOrder = distanceAhead(corner.start_m, corners[other].start_m, circuit.length_m) < circuit.length_m / 2
        const [first, second] = inOrder ? [corner, corners[other]] : [corners[other], corner]
        corners = corners.filter((_, i) => i !== k && i !== other)
        corners.push(span(first.start_m, second.end_m, first.id, first.name))
      }
    }
    corners.sort((a, b) => a.peak_m - b.peak_m)
  }
  return corners
}

/** Corners that are driven as one: alternating ones close together, or two of one direction. */
export type CornerGroup = { kind: 'chicane' | 'esses' | 'double-apex'; cornerIds: string[] }

/** Corners closer than this belong together (m). */
const LINKED_M = 40

/** Groups of linked corners in order of travel; a corner belongs to one group at most. */
export const findGroups = (circuit: Circuit, corners: readonly Corner[]): CornerGroup[] => {
  const groups: CornerGroup[] = []
  const gapAfter = (k: number): number => {
    const next = corners[(k + 1) % corners.length]
    const gap = distanceAhead(corners[k].end_m, next.start_m, circuit.length_m)
    // Neighbours that touch may overlap by a station.
    return gap > circuit.length_m / 2 ? 0 : gap
  }
  let run: number[] = []
  const close = (): void => {
    if (run.length >= 2) groups.push(groupOf(run.map((k) => corners[k])))
    run = []
  }
  for (let k = 0; k < corners.length; k++) {
    const last = run.at(-1)
    if (last !== undefined && gapAfter(last) > LINKED_M) close()
    const sameWay = run.length > 0 && corners[k].side === corners[run[run.length - 1]].side
    if (sameWay && run.length > 1) close()
    if (run.length === 2 && corners[run[0]].side === corners[run[1]].side) close()
    run.push(k)
  }
  close()
  return groups
}

const groupOf = (corners: readonly Corner[]): CornerGroup => {
  const cornerIds = corners.map((c) => c.id)
  if (corners.length === 2 && corners[0].side === corners[1].side) return { kind: 'double-apex', cornerIds }
  return { kind: corners.length === 2 ? 'chicane' : 'esses', cornerIds }
}
