import { Box, Button, Stack, TextField, ToggleButton, ToggleButtonGroup, Typography } from '@mui/material'
import { surveyFromOutline, writeCircuitCsv } from '@ochote/core'
import { type MouseEvent, useState } from 'react'
import { pushHistory, redoHistory, startHistory, undoHistory } from '../../data/history/history.ts'
import { say } from '../../language/say.ts'
import { lengthFrom, metres } from '../../language/staff-units.ts'
import { FileChoice } from '../../shared/file-choice.tsx'
import { LengthField } from '../../shared/length-field.tsx'

/** A place on the drawing board (px). */
type Point = { x: number; y: number }
type Drawing = { scale: Point[]; line: Point[] }

const WIDTH = 900
const HEIGHT = 520

/** Least number of points of a centreline. */
const MIN_POINTS = 5

/** Metres per pixel of a scale's two clicks; 0 until both are there. */
const metresPerPixel = (scale: readonly Point[], distance_m: number): number => {
  const apart = scale.length === 2 ? Math.hypot(scale[1].x - scale[0].x, scale[1].y - scale[0].y) : 0
  return apart > 0 ? distance_m / apart : 0
}

/** Length of a closed line (px). */
const lengthRound = (line: readonly Point[]): number =>
  line.reduce((sum, p, i) => {
    const next = line[(i + 1) % line.length]
    return sum + Math.hypot(p.x - next.x, p.y - next.y)
  }, 0)

/** A drawing with its history; clicks set the scale first, then points of the centreline. */
const useDrawing = () => {
  const [mode, setMode] = useState<Mode>('scale')
  const [history, setHistory] = useState(() => startHistory<Drawing>({ scale: [], line: [] }))
  const { scale, line } = history.now
  const add = (point: Point): void => {
    if (mode === 'line') {
      setHistory(pushHistory(history, { scale, line: [...line, point] }))
      return
    }
    const next = scale.length === 2 ? [point] : [...scale, point]
    setHistory(pushHistory(history, { scale: next, line }))
    if (next.length === 2) setMode('line')
  }
  return {
    scale,
    line,
    mode,
    setMode,
    add,
    undo: history.past.length > 0 ? () => setHistory(undoHistory(history)) : null,
    redo: history.future.length > 0 ? () => setHistory(redoHistory(history)) : null,
  }
}

type Mode = 'scale' | 'line'

/** Draws a circuit's centreline over a picture: two clicks a known distance apart give the scale, then points along the road. */
export const DrawCircuit = ({ onDrawn }: { onDrawn: (file: File, name: string) => void }) => {
  const [picture, setPicture] = useState<string | null>(null)
  const drawing = useDrawing()
  const [distance_m, setDistance] = useState<number | null>(lengthFrom(100))
  const [name, setName] = useState('')
  const [halfWidth_m, setHalfWidth] = useState<number | null>(5)
  const { scale, line } = drawing
  const factor = metresPerPixel(scale, distance_m ?? 0)
  const drawn = (): void => {
    const survey = surveyFromOutline(
      name,
      line.map((p) => p.x * factor),
      line.map((p) => -p.y * factor),
      halfWidth_m ?? 5,
    )
    onDrawn(new File([writeCircuitCsv(survey)], `${name}.csv`, { type: 'text/csv' }), name)
  }
  const ready = factor > 0 && line.length >= MIN_POINTS && name.trim() !== '' && halfWidth_m !== null && halfWidth_m >= 1
  return (
    <Stack spacing={2}>
      <Stack direction="row" useFlexGap spacing={4} sx={{ alignItems: 'flex-end', flexWrap: 'wrap' }}>
        <PictureChoice onPicture={setPicture} />
        <ToggleButtonGroup
          size="small"
          exclusive
          value={drawing.mode}
          onChange={(_, next: Mode | null) => next && drawing.setMode(next)}
          aria-label={say`What clicks set`}
        >
          <ToggleButton value="scale">{say`1 Scale`}</ToggleButton>
          <ToggleButton value="line">{say`2 Centreline`}</ToggleButton>
        </ToggleButtonGroup>
        <LengthField label={say`Distance between the clicks`} value_m={distance_m} onChange={setDistance} sx={{ width: 190 }} />
        <LengthField label={say`Half width`} value_m={halfWidth_m} onChange={setHalfWidth} sx={{ width: 110 }} />
        <TextField
          label={say`Name of the circuit`}
          value={name}
          onChange={(e) => setName(e.target.value.slice(0, 80))}
          sx={{ width: 170 }}
        />
        <Button size="small" variant="outlined" disabled={!drawing.undo} onClick={() => drawing.undo?.()}>
          {say`Undo point`}
        </Button>
        <Button size="small" variant="outlined" disabled={!drawing.redo} onClick={() => drawing.redo?.()}>
          {say`Redo point`}
        </Button>
        <Button variant="contained" disabled={!ready} onClick={drawn}>
          {say`Look at it`}
        </Button>
      </Stack>
      <Typography role="status" variant="text">
        {whatNext(line.length, factor, lengthRound(line) * factor)}
      </Typography>
      <Board picture={picture} scale={scale} line={line} onPoint={drawing.add} />
    </Stack>
  )
}

/** The next step, or what has been drawn. */
const whatNext = (points: number, factor: number, length_m: number): string => {
  if (factor === 0) return say`Click two places whose distance you know, for instance the ends of the start straight.`
  if (points < MIN_POINTS)
    return say`Click along the middle of the road in driving order, beginning at the start line; ${MIN_POINTS - points} more points at least.`
  return say`${points} points, about ${metres(length_m)} round. Heights are unknown: the circuit is taken as flat.`
}

/** A picture to draw over, as a data address. */
const PictureChoice = ({ onPicture }: { onPicture: (address: string | null) => void }) => {
  const [file, setFile] = useState<File | null>(null)
  const choose = (chosen: File | null): void => {
    setFile(chosen)
    if (!chosen) return
    const reader = new FileReader()
    reader.onload = () => onPicture(typeof reader.result === 'string' ? reader.result : null)
    reader.readAsDataURL(chosen)
  }
  return <FileChoice label={say`Picture to draw over`} accept="image/png,image/jpeg,image/webp" file={file} onChoose={choose} />
}

type BoardProps = Drawing & { picture: string | null; onPoint: (point: Point) => void }

const Board = ({ picture, scale, line, onPoint }: BoardProps) => {
  const onClick = (event: MouseEvent<SVGSVGElement>): void => {
    const rect = event.currentTarget.getBoundingClientRect()
    onPoint({ x: ((event.clientX - rect.left) * WIDTH) / rect.width, y: ((event.clientY - rect.top) * HEIGHT) / rect.height })
  }
  return (
    <Box sx={{ border: 'hair', borderColor: 'divider', maxWidth: WIDTH }}>
      {/* biome-ignore lint/a11y/useKeyWithClickEvents: a drawing board needs a pointer; a file can be imported instead */}
      <svg
        viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
        role="img"
        aria-label={say`Drawing board`}
        onClick={onClick}
        style={{ display: 'block', width: '100%', cursor: 'crosshair' }}
      >
        {picture && <image href={picture} width={WIDTH} height={HEIGHT} preserveAspectRatio="xMidYMid meet" />}
        {line.length > 0 && (
          <polygon
            points={line.map((p) => `${p.x},${p.y}`).join(' ')}
            fill="none"
            stroke="var(--accent)"
            strokeWidth="3"
            strokeLinejoin="round"
          />
        )}
        {line.map((p, i) => (
          <circle key={`${p.x} ${p.y}`} cx={p.x} cy={p.y} r={i === 0 ? 7 : 4} fill={i === 0 ? 'var(--ink)' : 'var(--accent)'} />
        ))}
        {scale.length > 0 && (
          <g stroke="var(--danger)" strokeWidth="3">
            {scale.map((p) => (
              <path key={`${p.x} ${p.y}`} d={`M${p.x - 6} ${p.y} h12 M${p.x} ${p.y - 6} v12`} />
            ))}
            {scale.length === 2 && <line x1={scale[0].x} y1={scale[0].y} x2={scale[1].x} y2={scale[1].y} strokeDasharray="6 4" />}
          </g>
        )}
      </svg>
    </Box>
  )
}
