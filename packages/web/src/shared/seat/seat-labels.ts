import { atStation, type Plan } from '@ochote/core'
import { inside, say } from '../../language/say.ts'
import { staffWords } from '../language/staff-words.ts'
import type { SeatLabel } from './seat-view.tsx'
import type { SeenMark } from './seat-words.ts'

/** Names in the picture: marks to look for, what announces hidden ones, and what stands there for good. */
export const labelsOf = ({ circuit, line, ground }: Plan, seen: readonly SeenMark[]): SeatLabel[] => {
  const marks = seen.map(({ mark, sight }) => ({
    id: `${mark.cornerId}-${mark.kind}`,
    text: staffWords.marks[mark.kind],
    station_m: mark.station_m,
    offset_m: atStation(circuit, line.offset_m, mark.station_m),
    above_m: 0.7,
    ...(sight.throughout ? {} : { hiddenUntil_m: sight.before_m }),
  }))
  const sighters = seen.flatMap(({ mark, sighter }) =>
    sighter
      ? [
          {
            id: sighter.cone.id,
            text: say`sighter for the ${inside(staffWords.marks[mark.kind])}`,
            station_m: sighter.cone.station_m,
            offset_m: sighter.cone.offset_m,
            above_m: 0.7,
          },
        ]
      : [],
  )
  const lasting = ground
    .filter((item) => item.kind === 'reference' || item.kind === 'marshal-post')
    .map((item) => {
      const side = item.side === 'right' ? -1 : 1
      const edge = atStation(circuit, side === 1 ? circuit.widthLeft_m : circuit.widthRight_m, item.from_m)
      return { id: item.id, text: item.name, station_m: item.from_m, offset_m: side * (edge + 1), above_m: 1.5 }
    })
  return [...marks, ...sighters, ...lasting]
}
