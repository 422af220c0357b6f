import { Box, Button, Stack, Typography } from '@mui/material'
import { findGroups, formatLapTime, type Plan, type PlanChoice } from '@ochote/core'
import { useQuery } from '@tanstack/react-query'
import { useDeferredValue, useMemo, useState } from 'react'
import { Link } from 'react-router'
import { circuitQuery } from '../../data/api/queries.ts'
import { useDay } from '../../data/day/day-context.tsx'
import { useFollowedLine, useNumbers, usePlan } from '../../data/plan/use-plan.ts'
import { say } from '../../language/say.ts'
import { metres } from '../../language/staff-units.ts'
import { columns, restOfWindow } from '../../look/columns.ts'
import { LapBand } from '../../shared/band/lap-band.tsx'
import { GroundView } from '../../shared/ground/ground-view.tsx'
import { LostFields } from '../../shared/lost-fields.tsx'
import { WidthNote } from '../../shared/plan/width-note.tsx'
import { Caution, ProblemNote } from '../../shared/problem-note.tsx'
import { Reading } from '../../shared/reading.tsx'
import type { RoadLayers } from '../../shared/road-layers.ts'
import { useLapSelection } from '../../shared/selection/lap-selection.tsx'
import { useLapKeys } from '../../shared/selection/use-lap-keys.ts'
import { StageHead } from '../../shared/stage-head.tsx'
import { UndoRedo } from '../../shared/undo-redo.tsx'
import { Compare } from './compare.tsx'
import { CornerPanel } from './corner-panel.tsx'
import { cornersCsv } from './corner-table.tsx'
import { ExportMenu } from './export-menu.tsx'
import { GroundTable } from './ground-table.tsx'
import { withPin } from './pins-here.tsx'
import { SurveyCorrection } from './survey-correction.tsx'
import { useCircuitLayers, useOtherPlan } from './use-circuit-layers.ts'
import { type Notes, useNotes } from './use-notes.ts'
import { usePlacing } from './use-placing.ts'
import { type Panel, ViewChoices } from './view-choices.tsx'

/** Learn a circuit: the lap laid out flat, the ground, its corners, what lies there, and what each is worth. */
export const CircuitStage = () => {
  const { day, settings, lookAt, changeSettings } = useDay()
  if (!settings) return null
  // A corrected survey takes the place of the one before: the day that is planned on that one goes along.
  const corrected = (circuitId: string): void =>
    day?.plan.settings.circuitId === settings.circuitId ? changeSettings({ circuitId }) : lookAt({ circuitId })
  return <Circuit key={settings.circuitId} settings={settings} onCircuit={corrected} />
}

type CircuitProps = { settings: PlanChoice; onCircuit: (circuitId: string) => void }

const Circuit = ({ settings, onCircuit }: CircuitProps) => {
  const { plan: newest, error } = usePlan(settings)
  // The context bar shows the new lap at once; the drawings follow in slices that never hold the interface up.
  const plan = useDeferredValue(newest)
  const edited = useNotes(settings.circuitId)
  return (
    <Stack spacing={2}>
      <Heading settings={settings} plan={plan} edited={edited} />
      <ProblemNote error={error ?? edited.error} />
      <LostFields lost={edited.lost} onSeen={edited.forgetLost} />
      {!plan && !error && <Reading what={say`Computing the lap …`} frame="lap" />}
      {plan && <Workbench settings={settings} plan={plan} edited={edited} onCircuit={onCircuit} />}
    </Stack>
  )
}

type HeadingProps = Omit<CircuitProps, 'onCircuit'> & { plan: Plan | undefined; edited: Notes }

const Heading = ({ settings, plan, edited }: HeadingProps) => {
  const stored = useQuery(circuitQuery(settings.circuitId))
  const numbers = useNumbers(plan)
  return (
    <>
      <StageHead stage="Circuit" facts={plan && `${plan.circuit.name}: ${circuitInWords(plan)}`}>
        <UndoRedo undo={edited.undo} redo={edited.redo} />
        {plan && stored.data && <ExportMenu plan={plan} stored={stored.data} cornersCsv={() => cornersCsv(plan, numbers?.corners)} />}
        <Button variant="outlined" size="small" component={Link} to="/circuit/new">
          {say`New circuit`}
        </Button>
      </StageHead>
      {plan && <WidthNote plan={plan} />}
    </>
  )
}

/** Band and ground view over what is chosen beside them. */
const Workbench = ({
  settings,
  plan,
  edited: { notes, change },
  onCircuit,
}: Omit<CircuitProps, 'onImported'> & { plan: Plan; edited: Notes }) => {
  const numbers = useNumbers(plan)
  const { moveTo, selectCorner } = useLapSelection()
  const [panel, setPanel] = useState<Panel>('corners')
  const [correcting, setCorrecting] = useState(false)
  const { other, otherSettings, setOtherSettings } = useOtherPlan(settings, panel === 'compare')
  const { layers, choices } = useCircuitLayers(settings, plan, numbers, panel === 'compare', other)
  const followed = useFollowedLine(settings)
  const shown = useMemo(
    (): RoadLayers =>
      followed.line
        ? { ...layers, overlays: [...((layers as RoadLayers).overlays ?? []), { id: 'followed', offset_m: followed.line.offset_m }] }
        : layers,
    [layers, followed.line],
  )
  const { placing, setPlacing, place } = usePlacing(notes, change, moveTo)
  useLapKeys(plan)
  const openPanel = (next: Panel): void => {
    setPanel(next)
    setPlacing(null)
    selectCorner(null)
  }
  return (
    <>
      <ViewChoices plan={plan} choices={choices} panel={panel} onPanel={openPanel} correcting={correcting} onCorrect={setCorrecting} />
      {correcting && <SurveyCorrection circuitId={settings.circuitId} plan={plan} onCircuit={onCircuit} />}
      <LapBand plan={plan} height={216} layers={shown} onPick={place} />
      <Box sx={columns('minmax(0, 0.8fr) minmax(0, 1.2fr)')}>
        <Box sx={{ position: 'relative' }}>
          <GroundView
            plan={plan}
            layers={shown}
            height={restOfWindow(442, 300)}
            onPick={place}
            onLetGoMark={() => followed.follow(null)}
            onHoldMark={(mark, at) =>
              notes && followed.follow({ pins: withPin(notes.pins, mark.station_m, at, plan.circuit.length_m), station_m: at.station_m })
            }
            onDragMark={
              notes && !placing
                ? (mark, at) => {
                    followed.follow(null)
                    change({ ...notes, pins: withPin(notes.pins, mark.station_m, at, plan.circuit.length_m) })
                  }
                : undefined
            }
          />
          {followed.line && (
            <Typography
              role="status"
              aria-label={say`While it is dragged`}
              className="figures"
              sx={{ position: 'absolute', left: 0, top: 0, px: 2, backgroundColor: 'background.paper', pointerEvents: 'none' }}
            >
              {say`The line follows: about ${formatLapTime(followed.line.lapTime_s, 1)} a lap; solved anew when you let go.`}
            </Typography>
          )}
        </Box>
        <Box
          role="region"
          aria-label={say`Corners, scrolls`}
          tabIndex={0}
          sx={{ overflow: 'auto', maxHeight: { md: restOfWindow(442, 300) } }}
        >
          {panel === 'ground' && notes ? (
            <GroundTable plan={plan} notes={notes} placing={placing} onPlacing={setPlacing} onChange={change} />
          ) : panel === 'compare' ? (
            <Compare plan={plan} other={other} settings={otherSettings} onSettings={setOtherSettings} />
          ) : (
            <CornerPanel plan={plan} numbers={numbers} notes={notes} onChange={change} />
          )}
        </Box>
      </Box>
      <Caution />
    </>
  )
}

const groupWords = { chicane: say`chicane`, esses: say`esses`, 'double-apex': say`double apex` } as const

const circuitInWords = ({ circuit, corners }: Plan): string => {
  const heights = Array.from(circuit.z_m)
  const widths = Array.from(circuit.widthLeft_m, (w, i) => w + circuit.widthRight_m[i])
  const min = Math.min(...widths)
  const max = Math.max(...widths)
  const said = max - min < 0.5 ? say`${metres(min)} wide` : say`${Math.round(min)} to ${metres(max)} wide`
  const width = circuit.widthAssumed ? say`${said} (assumed)` : said
  const groups = findGroups(circuit, corners).map((g) => `${groupWords[g.kind]} ${g.cornerIds.map((id) => id.slice(1)).join('–')}`)
  return [
    say`${metres(circuit.length_m)} long`,
    width,
    say`${metres(Math.max(...heights) - Math.min(...heights))} of elevation`,
    `${corners.length} ${corners.length === 1 ? say`corner` : say`corners`}${groups.length > 0 ? ` (${groups.join(', ')})` : ''}`,
  ].join(', ')
}
