import type { BandNote } from '../road-layers.ts'

/** An arrow along the foot of the band, so many pixels long, with its head at the end. */
const arrowAlong = (length: number): string => {
  const back = length < 0 ? 6 : -6
  return `M0 -2 H${length.toFixed(1)} m${back} -4 L${length.toFixed(1)} -2 l${back} 4`
}

/** Flags at the foot of the band, with their words as a title. `x`: where a station lies; `y`: the foot (px). */
export const NotesOnBand = ({ notes, x, y }: { notes: readonly BandNote[]; x: (s_m: number) => number; y: number }) => (
  <g>
    {notes.map((note) => {
      const colour = note.tone === 'danger' ? 'var(--danger)' : 'var(--ink)'
      return (
        <g key={`${note.station_m}-${note.label}`} transform={`translate(${x(note.station_m).toFixed(1)} ${y})`}>
          <title>{note.label}</title>
          {typeof note.to_m === 'number' && (
            <path d={arrowAlong(x(note.to_m) - x(note.station_m))} fill="none" stroke="var(--ink)" strokeWidth="2" />
          )}
          <path d="M0 0 V-12 L9 -8.5 L0 -5" fill={colour} stroke={colour} strokeWidth="1.4" />
        </g>
      )
    })}
  </g>
)
