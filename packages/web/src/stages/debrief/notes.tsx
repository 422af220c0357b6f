import { Box, Button, Stack, TextField, Typography } from '@mui/material'
import { api } from '@ochote/contract'
import type { Plan } from '@ochote/core'
import { useState } from 'react'
import { addressOf } from '../../data/api/api-client.ts'
import type { useRunEvents } from '../../data/events/use-run-events.ts'
import { say } from '../../language/say.ts'
import { metres } from '../../language/staff-units.ts'
import { useLapSelection } from '../../shared/selection/lap-selection.tsx'

type Events = Pick<ReturnType<typeof useRunEvents>, 'notes' | 'tell'>

/** Words pinned to places: written where the cursor stands, for one lap or all; taken back like every event. */
export const Notes = ({
  plan,
  events,
  lap,
  pictureAt,
}: {
  plan: Plan
  events: Events
  lap: number
  /** Address of a saved still, for readers, who cannot write here. */
  pictureAt?: (pictureId: string) => string
}) => {
  const { station_m, moveTo } = useLapSelection()
  const [text, setText] = useState('')
  const [all, setAll] = useState(false)
  const [from_m, setFrom] = useState<number | null>(null)
  const here_m = station_m ?? 0
  const still = (runId: string, pictureId: string): string =>
    pictureAt?.(pictureId) ?? addressOf(api.picture, { runId, pictureId }, undefined)
  const nameOf = (s_m: number): string => {
    const corner = plan.corners.find((c) =>
      c.start_m <= c.end_m ? s_m >= c.start_m && s_m <= c.end_m : s_m >= c.start_m || s_m <= c.end_m,
    )
    return corner ? `${corner.name}, ${metres(s_m)}` : metres(s_m)
  }
  const write = (): void => {
    if (text.trim() === '') return
    void events.tell({
      kind: 'note',
      station_m: from_m ?? here_m,
      to_m: from_m === null ? null : here_m,
      lap: all ? null : lap,
      text: text.trim(),
    })
    setText('')
    setFrom(null)
  }
  return (
    <Box component="section" aria-label={say`Notes`} sx={{ mt: 4 }}>
      <Typography component="h3" sx={{ fontWeight: 680 }}>
        {say`Notes`}
      </Typography>
      {!pictureAt && (
        <Stack
          component="form"
          direction="row"
          spacing={2}
          sx={{ my: 2 }}
          onSubmit={(event) => {
            event.preventDefault()
            write()
          }}
        >
          <TextField
            label={`${from_m === null ? say`At` : say`Arrow from ${metres(from_m)} to`} ${nameOf(here_m)}, ${all ? say`all laps` : say`lap ${lap}`}`}
            value={text}
            onChange={(e) => setText(e.target.value)}
            sx={{ flex: 1 }}
            slotProps={{ htmlInput: { maxLength: 300 } }}
          />
          <Button
            aria-pressed={from_m !== null}
            variant={from_m !== null ? 'contained' : 'outlined'}
            onClick={() => setFrom(from_m === null ? here_m : null)}
          >
            {say`Arrow from here`}
          </Button>
          <Button aria-pressed={all} variant="outlined" onClick={() => setAll(!all)}>
            {say`All laps`}
          </Button>
          <Button type="submit" variant="contained" disabled={text.trim() === ''}>
            {say`Pin it`}
          </Button>
        </Stack>
      )}
      {events.notes.length === 0 && (
        <Typography variant="text" color="text.secondary">
          {pictureAt ? say`No notes yet.` : say`Move over band or charts to a place, then write what belongs there.`}
        </Typography>
      )}
      {events.notes.map((note) => (
        <Stack key={note.id} direction="row" spacing={2} sx={{ alignItems: 'baseline' }}>
          <Button size="small" className="figures" onClick={() => moveTo(note.station_m)}>
            {`${nameOf(note.station_m)}${note.to_m === null ? '' : ` → ${metres(note.to_m)}`}${note.lap === null ? '' : say`, lap ${note.lap}`}`}
          </Button>
          <Box sx={{ flex: 1 }}>
            <Typography>{note.text}</Typography>
            {note.pictureId && (
              <a href={still(note.runId, note.pictureId)} target="_blank" rel="noreferrer">
                <img
                  src={still(note.runId, note.pictureId)}
                  alt={say`Still: ${note.text}`}
                  style={{ maxWidth: 220, display: 'block' }}
                  loading="lazy"
                />
              </a>
            )}
          </Box>
          {!pictureAt && (
            <Button size="small" aria-label={say`Undo: ${note.text}`} onClick={() => void events.tell({ kind: 'undo', undoes: note.id })}>
              {say`Undo`}
            </Button>
          )}
        </Stack>
      ))}
    </Box>
  )
}
