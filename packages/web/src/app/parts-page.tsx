import {
  Alert,
  AlertTitle,
  Box,
  Button,
  Checkbox,
  FormControlLabel,
  MenuItem,
  Stack,
  TableBody,
  TableCell,
  TableHead,
  TableRow,
  TextField,
  ToggleButton,
  ToggleButtonGroup,
  Typography,
} from '@mui/material'
import { type ReactNode, useState } from 'react'
import { chosenLook } from '../look/chosen.ts'
import { columns } from '../look/columns.ts'
import { type Distance, steps } from '../look/scale.ts'
import { At, useThemeChoice } from '../look/theme-choice.tsx'
import { FlagSign } from '../shared/flag-sign.tsx'
import { Caution } from '../shared/problem-note.tsx'
import { Reading } from '../shared/reading.tsx'
import { RowTable } from '../shared/row-table.tsx'
import { StageHead } from '../shared/stage-head.tsx'

const Group = ({ title, children }: { title: string; children: ReactNode }) => (
  <Box component="section" aria-label={title}>
    <Typography variant="head" gutterBottom>
      {title}
    </Typography>
    <Stack spacing={2} sx={{ alignItems: 'flex-start' }}>
      {children}
    </Stack>
  </Box>
)

const Scale = ({ distance }: { distance: Distance }) => (
  <At distance={distance}>
    <Box sx={{ borderTop: 'hair', borderColor: 'divider', py: 2 }}>
      <Typography variant="note">{distance}</Typography>
      {steps.map((step) => (
        <Typography key={step} variant={step}>
          {`${step}: 1 Boathouse, brake at 202 m`}
        </Typography>
      ))}
      <Stack direction="row" useFlexGap spacing={2} sx={{ flexWrap: 'wrap', mt: 2 }}>
        <Button variant="contained">Send out</Button>
        <Button variant="outlined">Undo</Button>
        <Button variant="outlined" size="small">
          In a row
        </Button>
      </Stack>
    </Box>
  </At>
)

/** Every part of the look in every state, on one screen: for whoever builds pages, served by the development server alone. */
export const PartsPage = () => {
  const { dark, setDark } = useThemeChoice()
  const [value, setValue] = useState('corners')
  const [ticked, setTicked] = useState(true)
  return (
    <Stack component="main" spacing={5} sx={{ p: 4 }}>
      <StageHead stage="Cones" facts="facts of the page">
        <Button size="small" variant="outlined" disabled>
          Undo
        </Button>
        <Button size="small" variant="outlined" onClick={() => setDark(!dark)}>
          {dark ? 'Light' : 'Dark'}
        </Button>
        <Button size="small" variant="contained">
          Primary
        </Button>
      </StageHead>
      <Box sx={columns('1fr 1fr')}>
        <Stack spacing={5}>
          <Group title="Buttons">
            <Stack direction="row" spacing={2}>
              <Button variant="contained">Do it</Button>
              <Button variant="outlined">Open</Button>
              <Button variant="text">Quiet</Button>
              <Button variant="contained" color="error">
                Stop
              </Button>
            </Stack>
            <Stack direction="row" spacing={2} sx={{ alignItems: 'center' }}>
              <Button variant="contained" disabled>
                Do it
              </Button>
              <Typography variant="note">Not possible now: choose two students first.</Typography>
            </Stack>
            <Button variant="outlined" aria-pressed="true">
              Chosen
            </Button>
          </Group>
          <Group title="Joined choice, tick, select, field">
            <ToggleButtonGroup exclusive value={value} onChange={(_, next: string | null) => next && setValue(next)} aria-label="Panel">
              <ToggleButton value="corners">Corners</ToggleButton>
              <ToggleButton value="ground">Ground</ToggleButton>
              <ToggleButton value="compare" disabled>
                Compare
              </ToggleButton>
            </ToggleButtonGroup>
            <FormControlLabel label="Told in the briefing" control={<Checkbox checked={ticked} onChange={() => setTicked(!ticked)} />} />
            <TextField select label="Surface" value="dry">
              <MenuItem value="dry">Dry</MenuItem>
              <MenuItem value="wet">Wet</MenuItem>
            </TextField>
            <TextField label="Name of a student" helperText="As it is said on the radio" />
          </Group>
          <Group title="Notes">
            <Alert>A note: one line.</Alert>
            <Alert severity="warning">
              <AlertTitle>Look again</AlertTitle>
              The cones were signed off for a dry road.
            </Alert>
            <Alert severity="error">
              <AlertTitle>This was not kept</AlertTitle>
              Nothing else changed. Try again when the network is back.
            </Alert>
            <Caution />
          </Group>
          <Group title="Rows">
            <RowTable aria-label="Rows">
              <TableHead>
                <TableRow>
                  <TableCell>Corner</TableCell>
                  <TableCell align="right">Radius</TableCell>
                  <TableCell component="td" />
                </TableRow>
              </TableHead>
              <TableBody>
                {['Boathouse', 'Reedbank', 'Long Heron'].map((name, i) => (
                  <TableRow key={name} hover selected={i === 1}>
                    <TableCell sx={{ fontWeight: 600 }}>{name}</TableCell>
                    <TableCell align="right" className="figures">
                      {`${30 + 4 * i} m`}
                    </TableCell>
                    <TableCell>
                      <Button size="small" variant="outlined">
                        Open
                      </Button>
                    </TableCell>
                  </TableRow>
                ))}
              </TableBody>
            </RowTable>
          </Group>
          <Group title="List entry that is chosen; nothing there yet; loading">
            <Box sx={{ width: 1, px: 3, py: 2, ...chosenLook('left') }}>Imke Valderan</Box>
            <Typography>No students yet. Add the first one; what is logged in runs is kept here.</Typography>
            <Reading what="Reading the day …" />
          </Group>
          <Group title="Flags">
            <Stack direction="row" spacing={2}>
              {[
                'Red',
                'Yellow',
                'Blue',
                'Green',
                'White',
                'Black',
                'Striped',
                'Chequered',
                'Black with orange disc',
                'Black and white',
              ].map((name) => (
                <FlagSign key={name} name={name} />
              ))}
            </Stack>
          </Group>
        </Stack>
        <Box>
          {(['desk', 'phone', 'knee', 'projector', 'paper'] as const).map((distance) => (
            <Scale key={distance} distance={distance} />
          ))}
        </Box>
      </Box>
    </Stack>
  )
}
