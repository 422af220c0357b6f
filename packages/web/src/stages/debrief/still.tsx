import { Box, Button, Stack, TextField, Typography } from '@mui/material'
import { api } from '@ochote/contract'
import { useMutation } from '@tanstack/react-query'
import { type PointerEvent, useRef, useState } from 'react'
import { v7 as uuid } from 'uuid'
import { call } from '../../data/api/api-client.ts'
import { say } from '../../language/say.ts'
import { onPicture } from '../../look/palette.ts'
import { ProblemNote } from '../../shared/problem-note.tsx'

/** A stroke over a still, in shares of its width and height. */
export type Stroke = { kind: 'line' | 'arrow'; x1: number; y1: number; x2: number; y2: number }

/** Stills are kept no wider than this, and drawn on no higher than this (px). */
const WIDEST_PX = 1280
const SEEN_PX = 440

/** The two short lines of an arrow's head, in pixels. */
export const arrowHead = ({ x1, y1, x2, y2 }: Stroke, width: number, height: number, size: number): [number, number][] => {
  const angle = Math.atan2((y2 - y1) * height, (x2 - x1) * width)
  return [2.6, -2.6].map((turn) => [x2 * width + size * Math.cos(angle + turn), y2 * height + size * Math.sin(angle + turn)])
}

const strokePath = (stroke: Stroke, width: number, height: number): string => {
  const [a, b] = arrowHead(stroke, width, height, 0.028 * width)
  const end = `${stroke.x2 * width} ${stroke.y2 * height}`
  const head = stroke.kind === 'arrow' ? `M${a[0]} ${a[1]} L${end} L${b[0]} ${b[1]}` : ''
  return `M${stroke.x1 * width} ${stroke.y1 * height} L${end} ${head}`
}

/** The picture that a video shows now, not wider than needed. */
export const grabStill = (video: HTMLVideoElement): HTMLCanvasElement => {
  const scale = Math.min(1, WIDEST_PX / Math.max(1, video.videoWidth))
  const canvas = document.createElement('canvas')
  canvas.width = Math.round(video.videoWidth * scale)
  canvas.height = Math.round(video.videoHeight * scale)
  canvas.getContext('2d')?.drawImage(video, 0, 0, canvas.width, canvas.height)
  return canvas
}

/** A still with its strokes as a JPEG in base 64. */
const flatten = (still: HTMLCanvasElement, strokes: readonly Stroke[]): string => {
  const canvas = document.createElement('canvas')
  canvas.width = still.width
  canvas.height = still.height
  const context = canvas.getContext('2d')
  if (context) {
    context.drawImage(still, 0, 0)
    context.lineCap = 'round'
    for (const stroke of strokes)
      for (const [ink, width] of [
        [onPicture.rim, 0.009],
        [onPicture.stroke, 0.005],
      ] as const) {
        context.strokeStyle = ink
        context.lineWidth = width * still.width
        context.stroke(new Path2D(strokePath(stroke, still.width, still.height)))
      }
  }
  return canvas.toDataURL('image/jpeg', 0.82).split(',')[1] ?? ''
}

/** Draws lines and arrows on a still, and keeps it with a word. */
export const StillBoard = ({
  still,
  runId,
  place,
  onKept,
  onLeave,
}: {
  still: HTMLCanvasElement
  runId: string
  /** Place of a still, in words. */
  place: string
  onKept: (pictureId: string, text: string) => void
  onLeave: () => void
}) => {
  const [kind, setKind] = useState<Stroke['kind']>('arrow')
  const [strokes, setStrokes] = useState<readonly Stroke[]>([])
  const [text, setText] = useState('')
  const [url] = useState(() => still.toDataURL('image/jpeg', 0.82))
  const begun = useRef<Stroke | null>(null)
  const board = useRef<HTMLDivElement>(null)
  const keep = useMutation({
    mutationFn: () => call(api.addPicture, { params: { runId }, body: { id: uuid(), jpeg: flatten(still, strokes) } }),
    onSuccess: ({ id }) => onKept(id, text.trim()),
  })
  const at = (event: PointerEvent): { x: number; y: number } => {
    const rect = board.current?.getBoundingClientRect()
    return rect ? { x: (event.clientX - rect.left) / rect.width, y: (event.clientY - rect.top) / rect.height } : { x: 0, y: 0 }
  }
  const [width, height] = [1000, (1000 * still.height) / Math.max(1, still.width)]
  return (
    <Stack spacing={2} component="section" aria-label={say`Draw on the still`}>
      <Stack direction="row" spacing={2} sx={{ alignItems: 'center' }}>
        {(['line', 'arrow'] as const).map((tool) => (
          <Button key={tool} size="small" variant="outlined" aria-pressed={kind === tool} onClick={() => setKind(tool)}>
            {tool === 'line' ? say`Line` : say`Arrow`}
          </Button>
        ))}
        <Button size="small" variant="outlined" disabled={strokes.length === 0} onClick={() => setStrokes(strokes.slice(0, -1))}>
          {say`Undo`}
        </Button>
        <Typography variant="text" color="text.secondary">
          {place}
        </Typography>
      </Stack>
      <Box
        ref={board}
        sx={{
          position: 'relative',
          touchAction: 'none',
          cursor: 'crosshair',
          lineHeight: 0,
          width: `min(100%, ${((SEEN_PX * still.width) / Math.max(1, still.height)).toFixed(0)}px)`,
        }}
        onPointerDown={(event) => {
          const { x, y } = at(event)
          begun.current = { kind, x1: x, y1: y, x2: x, y2: y }
          event.currentTarget.setPointerCapture(event.pointerId)
          setStrokes([...strokes, begun.current])
        }}
        onPointerMove={(event) => {
          const from = begun.current
          if (!from) return
          const { x, y } = at(event)
          setStrokes((all) => [...all.slice(0, -1), { ...from, x2: x, y2: y }])
        }}
        onPointerUp={() => {
          begun.current = null
          // A touch without a way is no stroke.
          setStrokes((all) => all.filter((s) => Math.hypot(s.x2 - s.x1, s.y2 - s.y1) > 0.01))
        }}
      >
        <img src={url} alt={say`The still`} style={{ width: '100%', display: 'block' }} draggable={false} />
        <svg
          viewBox={`0 0 ${width} ${height}`}
          style={{ position: 'absolute', inset: 0, width: '100%', height: '100%' }}
          aria-hidden="true"
        >
          {strokes.map((stroke, i) => (
            // biome-ignore lint/suspicious/noArrayIndexKey: strokes are only added and taken back at the end
            <g key={i} fill="none" strokeLinecap="round">
              <path d={strokePath(stroke, width, height)} stroke={onPicture.rim} strokeWidth={9} />
              <path d={strokePath(stroke, width, height)} stroke={onPicture.stroke} strokeWidth={5} />
            </g>
          ))}
        </svg>
      </Box>
      <Stack
        component="form"
        direction="row"
        spacing={2}
        sx={{ alignItems: 'flex-end' }}
        onSubmit={(event) => {
          event.preventDefault()
          if (text.trim() !== '') keep.mutate()
        }}
      >
        <TextField
          label={say`Caption`}
          value={text}
          onChange={(e) => setText(e.target.value)}
          sx={{ flex: 1 }}
          slotProps={{ htmlInput: { maxLength: 300 } }}
        />
        <Button type="submit" variant="contained" disabled={text.trim() === '' || keep.isPending}>
          {say`Save the frame`}
        </Button>
        <Button variant="outlined" onClick={onLeave}>
          {say`Cancel`}
        </Button>
      </Stack>
      <ProblemNote error={keep.error} />
    </Stack>
  )
}
