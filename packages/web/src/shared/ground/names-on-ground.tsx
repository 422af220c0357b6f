import type { Plan } from '@ochote/core'
import { useMemo } from 'react'
import { type } from '../../look/scale.ts'
import { cornerLabel, cornerNumber } from '../corner-card/corner-words.ts'
import { placeNames } from './ground-geometry.ts'

/** Half the width of a corner's name (px), by its letters. */
const nameWidth = (corner: { id: string; name: string }): number => 3.1 * (cornerLabel(corner).length + 1)

/** The part of the ground that is drawn (m), and how much of it one pixel is. */
type Frame = { left: number; top: number; width: number; height: number; pixel: number }
type Props = { plan: Plan; cornerId: string | null; frame: Frame; big: boolean }

/** Names of the corners beside the road, those that are drawn whole; on the projector their numbers. */
export const NamesOnGround = ({ plan, cornerId, frame, big }: Props) => {
  const { circuit, corners } = plan
  const { pixel } = frame
  const halfWidth_m = (c: { id: string; name: string }): number => (big ? 22 : nameWidth(c)) * pixel
  const halfHeight_m = (big ? 16 : 7) * pixel
  const isWhole = (c: { id: string; name: string }, x_m: number, y_m: number): boolean =>
    Math.abs(x_m - frame.left - frame.width / 2) + halfWidth_m(c) <= frame.width / 2 &&
    Math.abs(y_m - frame.top - frame.height / 2) + halfHeight_m <= frame.height / 2
  const names = useMemo(
    () =>
      placeNames(circuit, corners, {
        away_m: 14 * pixel,
        halfHeight_m: (big ? 16 : 7) * pixel,
        halfWidth_m: (c) => (big ? 22 : nameWidth(c)) * pixel,
      }),
    [circuit, corners, pixel, big],
  )
  const places = corners.map((c, i) => ({ c, x: names[i].x_m, y: -names[i].y_m }))
  return places
    .filter(({ c, x, y }) => isWhole(c, x, y))
    .map(({ c, x, y }) => (
      <text
        key={c.id}
        x={x}
        y={y}
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
