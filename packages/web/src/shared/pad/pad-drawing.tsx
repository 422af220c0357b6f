import { coneColours, type LaidExercise, type Pad, padColours } from '@ochote/core'
import type { ReactNode } from 'react'
import { say } from '../../language/say.ts'
import { type } from '../../look/scale.ts'
import { useSize } from '../use-size.ts'

type Point = { x_m: number; y_m: number }

const pathOf = (points: readonly Point[]): string =>
  points.map((p, k) => `${k === 0 ? 'M' : 'L'}${p.x_m.toFixed(2)} ${(-p.y_m).toFixed(2)}`).join(' ')

/** Distance of the grid's lines (m). */
const GRID_M = 10
/** Room around the pad for its numbers (m). */
const ROOM_M = 8

/** One exercise to scale: its way, its cones by colour, its box and the imagined wall around it. */
export const ExerciseDrawing = ({ laid, chosen, wrong, pixel }: { laid: LaidExercise; chosen: boolean; wrong: boolean; pixel: number }) => {
  const { box, path, cones, reaction, runOff_m, exercise } = laid
  const first = path[0]
  const second = path[Math.min(2, path.length - 1)]
  const heading = (Math.atan2(-(second.y_m - first.y_m), second.x_m - first.x_m) * 180) / Math.PI
  return (
    <g>
      <path
        d={`${pathOf(box)} Z`}
        fill="none"
        stroke={wrong ? 'var(--danger)' : 'var(--ink)'}
        strokeOpacity={0.35}
        strokeWidth={2 * runOff_m}
        strokeLinejoin="round"
        style={{ strokeOpacity: 0.08 }}
      />
      <path
        d={`${pathOf(box)} Z`}
        fill="var(--sheet)"
        fillOpacity={0.25}
        stroke={wrong ? 'var(--danger)' : chosen ? 'var(--accent)' : 'var(--ink)'}
        strokeWidth={chosen ? 0.5 : 0.25}
        strokeDasharray="1.5 1"
      />
      <path d={pathOf(path)} fill="none" stroke="var(--ink)" strokeWidth="0.35" strokeOpacity="0.7" />
      <path d="M-1.6 -1 L1 0 L-1.6 1 Z" fill="var(--ink)" transform={`translate(${first.x_m} ${-first.y_m}) rotate(${heading})`} />
      {reaction && (
        <g transform={`translate(${reaction.x_m} ${-reaction.y_m})`}>
          <circle r="0.7" fill="var(--ground)" stroke="var(--ink)" strokeWidth="0.3" />
        </g>
      )}
      {cones.map((cone, k) => (
        <circle
          // biome-ignore lint/suspicious/noArrayIndexKey: a cone is its number
          key={k}
          cx={cone.x_m}
          cy={-cone.y_m}
          r={cone.role === 'reference' ? 1.1 : 0.7}
          fill={coneColours[padColours[cone.role]]}
          stroke="var(--ink)"
          strokeWidth="0.2"
        />
      ))}
      <text
        x={box[0].x_m}
        y={-box[0].y_m + 14 * pixel}
        fontSize={type.desk.note[0] * pixel}
        fontWeight="650"
        fill={wrong ? 'var(--danger)' : 'var(--ink)'}
      >
        {exercise.name}
      </text>
    </g>
  )
}

/** A pad to scale with its grid and both base lines; what lies on it comes from outside. */
export const PadGround = ({
  pad,
  children,
  label,
}: {
  pad: Pick<Pad, 'length_m' | 'width_m'>
  /** What lies on the pad; `pixel`: metres of one pixel. */
  children: (pixel: number) => ReactNode
  label?: string
}) => {
  const { length_m, width_m } = pad
  const lines = (to: number): number[] => Array.from({ length: Math.floor(to / GRID_M) + 1 }, (_, k) => k * GRID_M)
  const [ref, size] = useSize<SVGSVGElement>()
  const wide_m = length_m + 2 * ROOM_M
  // Before it is measured it is as wide as a sheet.
  const pixel = wide_m / (size.width || 680)
  return (
    // biome-ignore lint/a11y/useSemanticElements: a drawing is no set of fields
    <svg
      ref={ref}
      viewBox={`${-ROOM_M} ${-width_m - ROOM_M} ${length_m + 2 * ROOM_M} ${width_m + 2 * ROOM_M}`}
      role="group"
      aria-label={label ?? say`The pad, to scale`}
      style={{ width: '100%', touchAction: 'none' }}
    >
      <rect x="0" y={-width_m} width={length_m} height={width_m} fill="var(--ground)" stroke="var(--ink)" strokeWidth="0.5" />
      {lines(length_m).map((x) => (
        <g key={`x${x}`}>
          <path d={`M${x} 0 V${-width_m}`} stroke="var(--line)" strokeWidth="0.12" />
          <text x={x} y={15 * pixel} fontSize={type.desk.note[0] * pixel} textAnchor="middle" fill="var(--ink)">
            {x}
          </text>
        </g>
      ))}
      {lines(width_m).map((y) => (
        <g key={`y${y}`}>
          <path d={`M0 ${-y} H${length_m}`} stroke="var(--line)" strokeWidth="0.12" />
          <text x={-4 * pixel} y={-y + 4 * pixel} fontSize={type.desk.note[0] * pixel} textAnchor="end" fill="var(--ink)">
            {y}
          </text>
        </g>
      ))}
      <path d={`M0 ${-width_m} V0 H${length_m}`} fill="none" stroke="var(--accent)" strokeWidth="0.7" />
      {children(pixel)}
    </svg>
  )
}
