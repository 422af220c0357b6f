import { Box, Button, Stack, TextField, ToggleButton, ToggleButtonGroup, Typography } from '@mui/material'
import { api, type CircuitSummary } from '@ochote/contract'
import { surveyFromOutline, writeCircuitCsv } from '@ochote/core'
import { useMutation } from '@tanstack/react-query'
import { type MouseEvent, useState } from 'react'
import { call } from '../../data/api/api-client.ts'
import { circuitsQuery, queryClient } from '../../data/api/queries.ts'
import { pushHistory, redoHistory, startHistory, undoHistory } from '../../data/history/history.ts'
import { FileChoice } from '../../shared/file-choice.tsx'
import { ProblemNote } from '../../shared/problem-note.tsx'

type Point = { x: number; y: number }
type Drawing = { scale: Point[]; line: Point[] }

const WIDTH = 900
const HEIGHT = 520

/** Draws a circuit's centreline over a picture: two clicks a known distance apart give the scale, then points along the road. */
export const DrawCircuit = ({ onImported }: { onImported?: (circuit: CircuitSummary) => void }) => {
  const [file, setFile] = useState<File | null>(null)
  const [picture, setPicture] = useState<string | null>(null)
  const [mode, setMode] = useState<'scale' | 'line'>('scale')
  const [history, setHistory] = useState(() => startHistory<Drawing>({ scale: [], line: [] }))
  const [known, setKnown] = useState('100')
  const [name, setName] = useState('')
  const [width, setWidth] = useState('5')
  const { scale, line } = history.now
  const apart = scale.length === 2 ? Math.hypot(scale[1].x - scale[0].x, scale[1].y - scale[0].y) : 0
  const metresPerPixel = apart > 0 ? Number(known) / apart : 0
  const length_m =
    line.reduce((sum, p, i) => sum + Math.hypot(p.x - line[(i + 1) % line.length].x, p.y - line[(i + 1) % line.length].y), 0) *
    metresPerPixel
  const send = useMutation({
    mutationFn: () => {
      const survey = surveyFromOutline(
        name,
        line.map((p) => p.x * metresPerPixel),
        line.map((p) => -p.y * metresPerPixel),
        Number(width),
      )
      return call(api.importCircuit, { query: { name }, file: new Blob([writeCircuitCsv(survey)]) })
    },
    onSuccess: (circuit) => {
      void queryClient.invalidateQueries({ queryKey: circuitsQuery.queryKey })
      onImported?.(circuit)
    },
  })
  const choose = (chosen: File | null): void => {
    setFile(chosen)
    if (!chosen) return
    const reader = new FileReader()
    reader.onload = () => setPicture(typeof reader.result === 'string' ? reader.result : null)
    reader.readAsDataURL(chosen)
  }
  const onClick = (event: MouseEvent<SVGSVGElement>): void => {
    const rect = event.currentTarget.getBoundingClientRect()
    const point = { x: ((event.clientX - rect.left) * WIDTH) / rect.width, y: ((event.clientY - rect.top) * HEIGHT) / rect.height }
    if (mode === 'line') setHistory(pushHistory(history, { scale, line: [...line, point] }))
    else {
      const next = scale.length === 2 ? [point] : [...scale, point]
      setHistory(pushHistory(history, { scale: next, line }))
      if (next.length === 2) setMode('line')
    }
  }
  const ready = metresPerPixel > 0 && line.length >= 5 && name.trim() !== '' && Number(width) >= 1
  return (
    <Stack spacing={1}>
      <Stack direction="row" useFlexGap spacing={2} sx={{ alignItems: 'flex-end', flexWrap: 'wrap' }}>
        <FileChoice label="Picture to draw over" accept="image/png,image/jpeg,image/webp" file={file} onChoose={choose} />
        <ToggleButtonGroup
          size="small"
          exclusive
          value={mode}
          onChange={(_, next: 'scale' | 'line' | null) => next && setMode(next)}
          aria-label="What clicks set"
        >
          <ToggleButton value="scale">1 Scale</ToggleButton>
          <ToggleButton value="line">2 Centreline</ToggleButton>
        </ToggleButtonGroup>
        <TextField
          label="Distance between the clicks (m)"
          type="number"
          value={known}
          onChange={(e) => setKnown(e.target.value)}
          sx={{ width: 190 }}
        />
        <TextField label="Half width (m)" type="number" value={width} onChange={(e) => setWidth(e.target.value)} sx={{ width: 110 }} />
        <TextField label="Name of the circuit" value={name} onChange={(e) => setName(e.target.value.slice(0, 80))} sx={{ width: 170 }} />
        <Button size="small" variant="outlined" disabled={history.past.length === 0} onClick={() => setHistory(undoHistory(history))}>
          Undo point
        </Button>
        <Button size="small" variant="outlined" disabled={history.future.length === 0} onClick={() => setHistory(redoHistory(history))}>
          Redo point
        </Button>
        <Button variant="contained" disabled={!ready || send.isPending} onClick={() => send.mutate()}>
          {send.isPending ? 'Creating …' : 'Create circuit'}
        </Button>
      </Stack>
      <Typography role="status" variant="body2">
        {metresPerPixel === 0
          ? 'Click two places whose distance you know, for instance the ends of the start straight.'
          : line.length < 5
            ? `Click along the middle of the road in driving order, beginning at the start line; ${5 - line.length} more points at least.`
            : `${line.length} points, about ${Math.round(length_m)} m round. Heights are unknown: the circuit is taken as flat.`}
      </Typography>
      <Box sx={{ border: '1px solid', borderColor: 'divider', maxWidth: WIDTH }}>
        {/* biome-ignore lint/a11y/useKeyWithClickEvents: a drawing board needs a pointer; a file can be imported instead */}
        <svg
          viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
          role="img"
          aria-label="Drawing board"
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
            <g stroke="var(--other)" strokeWidth="3">
              {scale.map((p) => (
                <path key={`${p.x} ${p.y}`} d={`M${p.x - 6} ${p.y} h12 M${p.x} ${p.y - 6} v12`} />
              ))}
              {scale.length === 2 && <line x1={scale[0].x} y1={scale[0].y} x2={scale[1].x} y2={scale[1].y} strokeDasharray="6 4" />}
            </g>
          )}
        </svg>
      </Box>
      <ProblemNote error={send.error} />
    </Stack>
  )
}
