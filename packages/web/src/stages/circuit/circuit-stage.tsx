import { Box, Button, Stack, ToggleButton, ToggleButtonGroup, Typography } from '@mui/material'
import { findGroups, formatDistance, type GroundItem, type LineMethod, type Plan, type PlanChoice } from '@ochote/core'
import { useQuery } from '@tanstack/react-query'
import { useDeferredValue, useMemo, useState } from 'react'
import { Link } from 'react-router'
import { v7 as uuid } from 'uuid'
import { circuitQuery } from '../../data/api/queries.ts'
import { useDay } from '../../data/day/day-context.tsx'
import { useNumbers, usePlan, usePlansBy } from '../../data/plan/use-plan.ts'
import { LapBand } from '../../shared/band/lap-band.tsx'
import { CornerCard } from '../../shared/corner-card/corner-card.tsx'
import { CornerWhy } from '../../shared/corner-card/why.tsx'
import { GroundView } from '../../shared/ground/ground-view.tsx'
import { groundWords } from '../../shared/marks/ground-words.ts'
import { Caution, ProblemNote } from '../../shared/problem-note.tsx'
import { useLapSelection } from '../../shared/selection/lap-selection.tsx'
import { useLapKeys } from '../../shared/selection/use-lap-keys.ts'
import { UndoRedo } from '../../shared/undo-redo.tsx'
import { CircuitImport } from './circuit-import.tsx'
import { Compare } from './compare.tsx'
import { CornerEditing } from './corner-edit.tsx'
import { CornerTable, cornersCsv } from './corner-table.tsx'
import { ExportMenu } from './export-menu.tsx'
import { GroundTable, type Placing } from './ground-table.tsx'
import { type StripName, stripNames, stripsAgainst, stripsOf, stripWords } from './layers.ts'
import { LinesOver } from './lines-over.tsx'
import { PinsHere, withPin } from './pins-here.tsx'
import { useNotes } from './use-notes.ts'

type Panel = 'corners' | 'ground' | 'compare'

/** Learn a circuit: the lap laid out flat, the ground, its corners, what lies there, and what each is worth. */
export const CircuitStage = () => {
  const { settings, changeSettings } = useDay()
  if (!settings) return null
  return <Circuit key={settings.circuitId} settings={settings} onCircuit={(circuitId) => changeSettings({ circuitId })} />
}

const Circuit = ({ settings, onCircuit }: { settings: PlanChoice; onCircuit: (circuitId: string) => void }) => {
  const { plan: newest, error } = usePlan(settings)
  // The context bar shows the new lap at once; the drawings follow in slices that never hold the interface up.
  const plan = useDeferredValue(newest)
  const numbers = useNumbers(plan)
  const stored = useQuery(circuitQuery(settings.circuitId))
  const { notes, change, undo, redo, error: notesError } = useNotes(settings.circuitId)
  const { cornerId, station_m, moveTo, selectCorner } = useLapSelection()
  const [importing, setImporting] = useState(false)
  const [panel, setPanel] = useState<Panel>('corners')
  const [strips, setStrips] = useState<StripName[]>(['speed'])
  const [withGround, setWithGround] = useState(true)
  const [placing, setPlacing] = useState<Placing | null>(null)
  const [otherSettings, setOtherSettings] = useState<PlanChoice>(() => ({
    ...settings,
    surface: settings.surface === 'wet' ? 'dry' : 'wet',
  }))
  const comparing = panel === 'compare'
  const { plan: other } = usePlan(comparing ? { ...otherSettings, circuitId: settings.circuitId } : undefined)
  useLapKeys(plan)
  const [lines, setLines] = useState<LineMethod[]>([])
  const byMethod = usePlansBy(settings, lines)
  const overlays = useMemo(
    () =>
      (comparing ? (other ? [other] : []) : byMethod)
        .filter((p) => p.circuit.count === plan?.circuit.count)
        .map((p) => ({ id: p.settings.method ?? 'smoothest', offset_m: p.line.offset_m })),
    [comparing, other, plan, byMethod],
  )
  const bandStrips = useMemo(() => {
    if (!plan) return []
    const own = stripsOf(plan, numbers, strips)
    return comparing && other && other.circuit.count === plan.circuit.count ? [...own, ...stripsAgainst(plan, other)] : own
  }, [plan, numbers, strips, comparing, other])

  const layers = useMemo(
    () => (plan ? { marks: plan.marks, strips: bandStrips, overlays, ...(withGround ? { ground: plan.ground } : {}) } : {}),
    [plan, bandStrips, overlays, withGround],
  )

  const place = (s_m: number, side: 'left' | 'right'): void => {
    if (!placing || !notes) return
    const words = groundWords[placing.kind]
    if (words.stretch && placing.from_m === null) {
      setPlacing({ kind: placing.kind, from_m: s_m })
      moveTo(s_m)
      return
    }
    const item: GroundItem = {
      id: uuid(),
      kind: placing.kind,
      name: words.name,
      side,
      from_m: placing.from_m ?? s_m,
      to_m: s_m,
      ...(words.band ? { near_m: 0, far_m: 1.5 } : {}),
      ...(placing.kind === 'run-off' ? { runOff: { surface: 'grass', length_m: 30 } } : {}),
      ...(placing.kind === 'reference' ? { reference: 'post' } : {}),
    }
    change({ ...notes, ground: [...notes.ground, item] })
    setPlacing({ kind: placing.kind, from_m: null })
    moveTo(s_m)
  }
  const own = numbers?.corners.find((n) => n.cornerId === cornerId)
  const pick = placing ? place : undefined
  return (
    <Stack spacing={1}>
      <Stack direction="row" useFlexGap spacing={1} sx={{ alignItems: 'baseline', flexWrap: 'wrap' }}>
        <Typography variant="h1">{plan?.circuit.name ?? 'Circuit'}</Typography>
        {plan && (
          <Typography color="text.secondary" sx={{ fontSize: '0.9rem' }}>
            {circuitInWords(plan)}
          </Typography>
        )}
        <Box sx={{ flex: 1 }} />
        <UndoRedo undo={undo} redo={redo} />
        {plan && stored.data && <ExportMenu plan={plan} stored={stored.data} cornersCsv={() => cornersCsv(plan, numbers?.corners)} />}
        <Button variant="outlined" size="small" component={Link} to="/circuit/vehicles">
          Vehicles
        </Button>
        <Button variant="outlined" size="small" onClick={() => setImporting(!importing)}>
          {importing ? 'Close' : 'Import circuit'}
        </Button>
      </Stack>
      {importing && <CircuitImport keeps={settings.circuitId} onImported={(circuit) => onCircuit(circuit.id)} />}
      <ProblemNote error={error ?? notesError} />
      {plan && (
        <>
          <Stack direction="row" useFlexGap spacing={1} sx={{ alignItems: 'center', flexWrap: 'wrap' }}>
            <ToggleButtonGroup
              size="small"
              aria-label="Strips under the lap"
              value={strips}
              onChange={(_, next: StripName[]) => setStrips(next)}
            >
              {stripNames.map((name) => (
                <ToggleButton key={name} value={name} sx={{ py: 0.2 }}>
                  {stripWords[name]}
                </ToggleButton>
              ))}
            </ToggleButtonGroup>
            <ToggleButton size="small" value="ground" selected={withGround} onChange={() => setWithGround(!withGround)} sx={{ py: 0.2 }}>
              Ground
            </ToggleButton>
            {plan && <LinesOver plan={plan} plans={byMethod} chosen={lines} onChoose={setLines} />}
            <Box sx={{ flex: 1 }} />
            <ToggleButtonGroup
              size="small"
              exclusive
              aria-label="Beside the ground view"
              value={panel}
              onChange={(_, next: Panel | null) => {
                if (!next) return
                setPanel(next)
                setPlacing(null)
                selectCorner(null)
              }}
            >
              <ToggleButton value="corners" sx={{ py: 0.2 }}>
                Corners
              </ToggleButton>
              <ToggleButton value="ground" sx={{ py: 0.2 }}>
                Ground and hazards
              </ToggleButton>
              <ToggleButton value="compare" sx={{ py: 0.2 }}>
                Compare
              </ToggleButton>
            </ToggleButtonGroup>
          </Stack>
          <LapBand plan={plan} height={216} layers={layers} onPick={pick} />
          <Box sx={{ display: 'grid', gridTemplateColumns: 'minmax(0, 0.95fr) minmax(420px, 1.05fr)', gap: 2 }}>
            <GroundView
              plan={plan}
              layers={layers}
              height={356}
              onPick={pick}
              onDragMark={
                notes && !placing
                  ? (mark, { station_m: at_m, offset_m }) =>
                      change({ ...notes, pins: withPin(notes.pins, mark.station_m, { station_m: at_m, offset_m }, plan.circuit.length_m) })
                  : undefined
              }
            />
            <Box role="region" aria-label="Corners, scrolls" tabIndex={0} sx={{ overflow: 'auto', maxHeight: 356 }}>
              {panel === 'ground' && notes ? (
                <GroundTable plan={plan} notes={notes} placing={placing} onPlacing={setPlacing} onChange={change} />
              ) : panel === 'compare' ? (
                <Compare plan={plan} other={other} settings={otherSettings} onSettings={setOtherSettings} />
              ) : cornerId && plan.corners.some((c) => c.id === cornerId) ? (
                <CornerCard
                  plan={plan}
                  cornerId={cornerId}
                  lead={own && <CornerWhy plan={plan} numbers={own} shifts={numbers?.shifts ?? []} />}
                >
                  {notes && <PinsHere plan={plan} cornerId={cornerId} pins={notes.pins} onChange={(pins) => change({ ...notes, pins })} />}
                  {notes && <CornerEditing plan={plan} cornerId={cornerId} station_m={station_m} notes={notes} onChange={change} />}
                </CornerCard>
              ) : (
                <>
                  <CornerTable plan={plan} numbers={numbers?.corners} />
                  {station_m !== null && notes && (
                    <Button
                      size="small"
                      variant="text"
                      onClick={() => {
                        const edit = {
                          kind: 'add' as const,
                          start_m: Math.max(0, station_m - 20),
                          end_m: Math.min(plan.circuit.length_m, station_m + 20),
                        }
                        change({ ...notes, cornerEdits: [...notes.cornerEdits, edit] })
                      }}
                    >
                      Add a corner at the cursor
                    </Button>
                  )}
                </>
              )}
            </Box>
          </Box>
          <Caution />
        </>
      )}
    </Stack>
  )
}

const groupWords = { chicane: 'chicane', esses: 'esses', 'double-apex': 'double apex' } as const

const circuitInWords = ({ circuit, corners }: Plan): string => {
  const heights = Array.from(circuit.z_m)
  const widths = Array.from(circuit.widthLeft_m, (w, i) => w + circuit.widthRight_m[i])
  const min = Math.min(...widths)
  const max = Math.max(...widths)
  const width = max - min < 0.5 ? `${Math.round(min)} m wide` : `${Math.round(min)} to ${Math.round(max)} m wide`
  const groups = findGroups(circuit, corners).map((g) => `${groupWords[g.kind]} ${g.cornerIds.map((id) => id.slice(1)).join('–')}`)
  return [
    `${formatDistance(circuit.length_m, 'metric')} long`,
    width,
    `${Math.round(Math.max(...heights) - Math.min(...heights))} m of elevation`,
    `${corners.length} ${corners.length === 1 ? 'corner' : 'corners'}${groups.length > 0 ? ` (${groups.join(', ')})` : ''}`,
  ].join(', ')
}
