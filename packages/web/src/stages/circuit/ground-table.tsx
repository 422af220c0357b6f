import { Box, Button, MenuItem, Stack, Table, TableBody, TableCell, TableHead, TableRow, TextField, Typography } from '@mui/material'
import type { CircuitNotes } from '@ochote/contract'
import { type GroundItem, type GroundKind, groundKinds, type Plan, referenceKinds, runOffSurfaces } from '@ochote/core'
import { useState } from 'react'
import { say } from '../../language/say.ts'
import { lengthOf, lengthUnit, metres } from '../../language/staff-units.ts'
import { LengthField } from '../../shared/length-field.tsx'
import { GroundGlyph } from '../../shared/marks/ground-glyph.tsx'
import { groundWords, isFound, referenceWords, runOffWords } from '../../shared/marks/ground-words.ts'
import { useLapSelection } from '../../shared/selection/lap-selection.tsx'

/** A width on the road: with a decimal only where it has one. */
const short = (m: number): number => Number(lengthOf(m).toFixed(1))

/** A ground item that is being placed: its kind, and its start once that was clicked. */
export type Placing = { kind: GroundKind; from_m: number | null }

type Props = {
  plan: Plan
  notes: CircuitNotes
  placing: Placing | null
  onPlacing: (placing: Placing | null) => void
  onChange: (notes: CircuitNotes) => void
}

const placeable = groundKinds.filter((kind) => kind !== 'off-camber')

/** Hazards, run-offs and references as a table to edit; new ones are placed by clicking the band or the ground view. */
export const GroundTable = ({ plan, notes, placing, onPlacing, onChange }: Props) => {
  const { moveTo } = useLapSelection()
  const [kind, setKind] = useState<GroundKind>('reference')
  const [edited, setEdited] = useState<string | null>(null)
  const items = [...plan.ground].sort((a, b) => a.from_m - b.from_m)
  const put = (item: GroundItem): void => onChange({ ...notes, ground: notes.ground.map((g) => (g.id === item.id ? item : g)) })
  return (
    <Stack spacing={2}>
      <Stack direction="row" spacing={3} sx={{ alignItems: 'flex-end' }}>
        <TextField select label={say`Add`} value={kind} onChange={(e) => setKind(e.target.value as GroundKind)} sx={{ width: 180 }}>
          {placeable.map((k) => (
            <MenuItem key={k} value={k}>
              <Stack direction="row" spacing={2} sx={{ alignItems: 'center' }}>
                <GroundGlyph kind={k} />
                <span>{groundWords[k].name}</span>
              </Stack>
            </MenuItem>
          ))}
        </TextField>
        <Button variant={placing ? 'outlined' : 'contained'} onClick={() => onPlacing(placing ? null : { kind, from_m: null })}>
          {placing ? say`Done` : say`Place on the track`}
        </Button>
      </Stack>
      {placing && (
        <Typography role="status" sx={{ fontWeight: 600, color: 'primary.main' }}>
          {placing.from_m !== null
            ? say`Click where it ends.`
            : say`Click the band or the ground view where ${groundWords[placing.kind].stretch ? say`it begins` : say`it is`}, on its side of the road.`}
        </Typography>
      )}
      <Table size="small" stickyHeader aria-label={say`Ground`}>
        <TableHead>
          <TableRow>
            <TableCell>{say`What`}</TableCell>
            <TableCell>{say`Side`}</TableCell>
            <TableCell align="right">{say`From`}</TableCell>
            <TableCell align="right">{say`To`}</TableCell>
            <TableCell component="td" />
          </TableRow>
        </TableHead>
        <TableBody>
          {items.map((item) =>
            edited === item.id ? (
              <TableRow key={item.id}>
                <TableCell colSpan={5}>
                  <ItemForm
                    item={item}
                    onSave={(changed) => {
                      put(changed)
                      setEdited(null)
                    }}
                    onDelete={() => {
                      onChange({ ...notes, ground: notes.ground.filter((g) => g.id !== item.id) })
                      setEdited(null)
                    }}
                    onClose={() => setEdited(null)}
                  />
                </TableCell>
              </TableRow>
            ) : (
              <TableRow key={item.id} hover onClick={() => moveTo(item.from_m)} sx={{ cursor: 'pointer' }}>
                <TableCell>
                  <Stack direction="row" spacing={2} sx={{ alignItems: 'center' }}>
                    <GroundGlyph kind={item.kind} />
                    <span>{itemInWords(item)}</span>
                  </Stack>
                </TableCell>
                <TableCell>{item.side}</TableCell>
                <TableCell align="right" className="figures">
                  {metres(item.from_m)}
                </TableCell>
                <TableCell align="right" className="figures">
                  {item.to_m === item.from_m ? '' : metres(item.to_m)}
                </TableCell>
                <TableCell align="right" sx={{ whiteSpace: 'nowrap' }}>
                  {isFound(item) ? (
                    <Box component="span" sx={{ color: 'text.secondary' }}>
                      {say`from the survey`}
                    </Box>
                  ) : (
                    <Button
                      size="small"
                      variant="text"
                      sx={{ p: 0, minWidth: 0 }}
                      onClick={(e) => {
                        e.stopPropagation()
                        setEdited(item.id)
                      }}
                    >
                      {say`Edit`}
                    </Button>
                  )}
                </TableCell>
              </TableRow>
            ),
          )}
        </TableBody>
      </Table>
    </Stack>
  )
}

const itemInWords = (item: GroundItem): string => {
  const detail = item.runOff
    ? say`, ${metres(item.runOff.length_m)} of ${runOffWords[item.runOff.surface]}`
    : item.far_m !== undefined
      ? say`, ${short(item.near_m ?? 0)} to ${short(item.far_m)} ${lengthUnit} from the edge`
      : ''
  return `${item.name || groundWords[item.kind].name}${detail}`
}

const ItemForm = ({
  item,
  onSave,
  onDelete,
  onClose,
}: {
  item: GroundItem
  onSave: (item: GroundItem) => void
  onDelete: () => void
  onClose: () => void
}) => {
  const [draft, setDraft] = useState(item)
  const words = groundWords[item.kind]
  const set = (change: Partial<GroundItem>): void => setDraft({ ...draft, ...change })
  const metres = (label: string, value: number | undefined, key: 'from_m' | 'to_m' | 'near_m' | 'far_m') => (
    <LengthField
      label={label}
      value_m={value ?? null}
      onChange={(value_m) => set({ [key]: value_m === null || Number.isNaN(value_m) ? undefined : Math.max(0, value_m) })}
      sx={{ width: 90 }}
    />
  )
  return (
    <Stack spacing={2}>
      <Stack direction="row" useFlexGap spacing={3} sx={{ flexWrap: 'wrap' }}>
        <TextField label={words.name} value={draft.name} onChange={(e) => set({ name: e.target.value.slice(0, 80) })} sx={{ width: 190 }} />
        <TextField
          select
          label={say`Side`}
          value={draft.side}
          onChange={(e) => set({ side: e.target.value as GroundItem['side'] })}
          sx={{ width: 80 }}
        >
          {(['left', 'right', 'both'] as const).map((side) => (
            <MenuItem key={side} value={side}>
              {side}
            </MenuItem>
          ))}
        </TextField>
        {metres(say`From`, draft.from_m, 'from_m')}
        {words.stretch && metres(say`To`, draft.to_m, 'to_m')}
        {words.band && metres(say`Near edge`, draft.near_m, 'near_m')}
        {words.band && metres(say`Far edge`, draft.far_m, 'far_m')}
        {item.kind === 'reference' && (
          <TextField
            select
            label={say`What`}
            value={draft.reference ?? 'post'}
            onChange={(e) => set({ reference: e.target.value as NonNullable<GroundItem['reference']> })}
            sx={{ width: 120 }}
          >
            {referenceKinds.map((r) => (
              <MenuItem key={r} value={r}>
                {referenceWords[r]}
              </MenuItem>
            ))}
          </TextField>
        )}
        {item.kind === 'run-off' && (
          <>
            <TextField
              select
              label={say`Surface`}
              value={draft.runOff?.surface ?? 'grass'}
              onChange={(e) =>
                set({
                  runOff: {
                    length_m: draft.runOff?.length_m ?? 30,
                    surface: e.target.value as NonNullable<GroundItem['runOff']>['surface'],
                  },
                })
              }
              sx={{ width: 100 }}
            >
              {runOffSurfaces.map((s) => (
                <MenuItem key={s} value={s}>
                  {runOffWords[s]}
                </MenuItem>
              ))}
            </TextField>
            <LengthField
              label={say`Depth`}
              value_m={draft.runOff?.length_m ?? null}
              onChange={(length_m) => set({ runOff: { surface: draft.runOff?.surface ?? 'grass', length_m: Math.max(0, length_m || 0) } })}
              sx={{ width: 90 }}
            />
          </>
        )}
      </Stack>
      <Stack direction="row" spacing={2}>
        <Button variant="contained" size="small" onClick={() => onSave({ ...draft, to_m: words.stretch ? draft.to_m : draft.from_m })}>
          {say`Save`}
        </Button>
        <Button variant="outlined" size="small" onClick={onClose}>
          {say`Cancel`}
        </Button>
        <Button variant="text" size="small" color="error" onClick={onDelete}>
          {say`Remove`}
        </Button>
      </Stack>
    </Stack>
  )
}
