import type { Plan } from '@ochote/core'
import { useMemo } from 'react'
import { type } from '../../look/scale.ts'
import { cornerLabel, cornerNumber } from '../corner-card/corner-words.ts'
import { placeNames } from './ground-geometry.ts'

/** Half the width of a corner's name (px), by its letters. */
const nameWidth = (corner: { id: string; name: string }): number => 3.1 * (cornerLabel(corner).length + 1)

type Props = { plan: Plan; cornerId: string | null; pixel: number; big: boolean }

/** Names of the corners beside the road; on the projector their numbers. `pixel`: metres of one. */
export const NamesOnGround = ({ plan, cornerId, pixel, big }: Props) => {
  const { circuit, corners } = plan
  const names = useMemo(
    () =>
      placeNames(circuit, corners, {
        away_m: 14 * pixel,
        halfHeight_m: (big ? 16 : 7) * pixel,
        halfWidth_m: (c) => (big ? 22 : nameWidth(c)) * pixel,
      }),
    [circuit, corners, pixel, big],
  )
  return corners.map((c, i) => (
    <text
      key={c.id}
      x={names[i].x_m}
      y={-names[i].y_m}
      fontSize={(big ? type.projector : type.desk).note[0] * pixel}
      textAnchor="middle"
      dominantBaseline="middle"
      fontWeight={c.id === cornerId ? 750 : 560}
      fill={c.id === cornerId ? 'var(--accent)' : 'var(--ink)'}
      stroke="var(--ground)"
      strokeWidth={3 * pixel}
      paintOrder="stroke"
      style={{ fontStretch: '82%' }}
    >
      {big ? cornerNumber(c) : cornerLabel(c)}
    </text>
  ))
}
