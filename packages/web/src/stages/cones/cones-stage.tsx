import { Alert, Box, Button, Stack, ToggleButton, ToggleButtonGroup, Typography } from '@mui/material'
import {
  type ConeEdits,
  type ConeSet,
  coneColours,
  cornerName,
  levels,
  type Nudge,
  type Plan,
  type PlanChoice,
  servedByGroups,
} from '@ochote/core'
import { useQuery } from '@tanstack/react-query'
import { useDeferredValue, useMemo, useState } from 'react'
import { Link } from 'react-router'
import { circuitQuery, studentsQuery, vehiclesQuery } from '../../data/api/queries.ts'
import { useConeSet, useConeWork, useStaleCones } from '../../data/cones/use-cone-set.ts'
import { useDay } from '../../data/day/day-context.tsx'
import { useDayPart } from '../../data/day/use-day-part.ts'
import { useNumbers, usePlan } from '../../data/plan/use-plan.ts'
import { useSchoolSettings } from '../../data/school/use-school-settings.ts'
import { say, sayWhole } from '../../language/say.ts'
import { restOfWindow } from '../../look/columns.ts'
import { LapBand } from '../../shared/band/lap-band.tsx'
import { CornerCard } from '../../shared/corner-card/corner-card.tsx'
import { levelName } from '../../shared/language/staff-words.ts'
import { PickField } from '../../shared/pick-field.tsx'
import { WidthNote } from '../../shared/plan/width-note.tsx'
import { Caution, ProblemNote } from '../../shared/problem-note.tsx'
import { Reading } from '../../shared/reading.tsx'
import { useLapSelection } from '../../shared/selection/lap-selection.tsx'
import { useLapKeys } from '../../shared/selection/use-lap-keys.ts'
import { StageHead } from '../../shared/stage-head.tsx'
import { UndoRedo } from '../../shared/undo-redo.tsx'
import { WordHelp } from '../../shared/word-help.tsx'
import { AudienceEditor } from './audience-editor.tsx'
import { ConeEditor } from './cone-editor.tsx'
import { ConeGround } from './cone-ground.tsx'
import { ConeProblems } from './cone-problems.tsx'
import { FadingTable } from './fading-table.tsx'
import { LayingTable } from './laying-table.tsx'
import { SaveMenu } from './save-menu.tsx'

type Panel = 'sheet' | 'whom' | 'fading'
const panelWords: Record<Panel, string> = { sheet: say`Laying sheet`, whom: say`For whom`, fading: say`Fading out` }

/** Lay out cones: they follow pace, surface, vehicles and braking style at once, and keep what was moved by hand. */
export const ConesStage = () => {
  const { settings } = useDay()
  const { plan: newest, computing, error } = usePlan(settings)
  const plan = useDeferredValue(newest)
  const numbers = useNumbers(plan)
  const set = useConeSet(plan, settings, numbers)
  if (!plan || !set || !settings)
    return (
      <Stack spacing={2}>
        <StageHead stage="Cones" />
        <Reading what={say`Computing lap and cones …`} frame="lap" error={error} />
      </Stack>
    )
  return <Cones plan={plan} settings={settings} set={set} numbers={numbers} computing={computing} error={error} />
}

type Props = {
  plan: Plan
  settings: PlanChoice
  set: ConeSet
  numbers: ReturnType<typeof useNumbers>
  computing: boolean
  error: unknown
}

const Cones = ({ plan, settings, set, numbers, computing, error }: Props) => {
  const part = useDayPart('cones')
  const { day } = useDay()
  const work = useConeWork(settings.circuitId)
  // What a hand moves belongs to the day's own layout.
  const canMove = part.kept && day?.plan.settings.circuitId === settings.circuitId
  const change = (hands: Pick<ConeEdits, 'nudges' | 'locks'>): void => part.change({ ...hands, handsOn: settings.circuitId })
  const nudge = (id: string, to: Nudge): void => change({ nudges: { ...work.nudges, [id]: to }, locks: work.locks })
  const [groupId, setGroupId] = useState<string | null>(null)
  const layers = useMemo(() => ({ marks: plan.marks, cones: set.cones }), [plan, set])
  const { cornerId, selectCorner, moveTo } = useLapSelection()
  useLapKeys(plan)
  const choose = (cone: ConeSet['cones'][number]): void => {
    setGroupId(cone.groupId)
    selectCorner(cone.cornerId || null)
    moveTo(cone.station_m)
  }
  return (
    <Stack spacing={2}>
      <Heading plan={plan} settings={settings} set={set} part={part} error={error} />
      <LapBand plan={plan} layers={layers} height={182} onCone={choose} />
      <SchemeAndLevel set={set} part={part} />
      <WidthNote plan={plan} />
      <ConeProblems set={set} nameOf={(id) => cornerName(plan.corners, id, id || say`the pit lane`)} />
      <ConeGround
        plan={plan}
        cones={set.cones}
        groupId={groupId}
        height={groupId || cornerId ? 196 : restOfWindow(500, 300)}
        onNudge={canMove && groupId && !work.locks[groupId] ? nudge : null}
        below={
          groupId ? (
            <ConeEditor
              plan={plan}
              cones={set.cones}
              groupId={groupId}
              hands={work}
              numbers={numbers?.corners.find((n) => n.cornerId === cornerId)}
              canChange={canMove}
              onChange={change}
              onClose={() => setGroupId(null)}
            />
          ) : (
            cornerId && <CornerCard plan={plan} cornerId={cornerId} />
          )
        }
        beside={<Details plan={plan} set={set} part={part} computing={computing} groupId={groupId} onChoose={choose} />}
      />
    </Stack>
  )
}

/** The day's cone work with its history. */
type Part = ReturnType<typeof useDayPart<'cones'>>

/** Saving, printing and signing off, with what is out of date. */
const Heading = ({ plan, settings, set, part, error }: Pick<Props, 'plan' | 'settings' | 'set' | 'error'> & { part: Part }) => {
  const { day } = useDay()
  const { error: schoolError } = useSchoolSettings()
  const circuit = useQuery(circuitQuery(settings.circuitId))
  const stale = useStaleCones(circuit.data?.version)
  const [saveError, setSaveError] = useState<unknown>(null)
  const { value: work, change, kept, undo, redo } = part
  const signOff = (): void =>
    change({ settled: { at: new Date().toISOString(), settings, circuitVersion: circuit.data?.version ?? 0, cones: set.cones.length } })
  return (
    <>
      <StageHead stage="Cones">
        <UndoRedo undo={undo} redo={redo} />
        <SaveMenu dayId={day?.id} name={plan.circuit.name} set={set} onError={setSaveError} />
        <Button variant="outlined" size="small" component={Link} to="/cones/sheet">
          {say`Print`}
        </Button>
        <Button variant="contained" size="small" disabled={!kept} onClick={signOff}>
          {say`Sign off these cones`}
        </Button>
        <WordHelp word="sign-off" />
      </StageHead>
      <ProblemNote error={error ?? schoolError ?? saveError} />
      {work.settled && stale.length > 0 && (
        <Alert severity="warning" icon={false} role="note" sx={{ py: 0 }}>
          {say`The cones signed off at ${work.settled.at.slice(11, 16)} are out of date: ${stale.join('; ')}. Locked cones have not moved. Check the others, then sign off again.`}
        </Alert>
      )}
    </>
  )
}

const SchemeAndLevel = ({ set, part: { value: work, change, kept } }: { set: ConeSet; part: Part }) => {
  const { changeSettings } = useDay()
  const { schemes } = useSchoolSettings()
  return (
    <Stack direction="row" useFlexGap spacing={5} sx={{ alignItems: 'flex-end', flexWrap: 'wrap' }}>
      <PickField
        label={say`Scheme`}
        value={set.scheme.id}
        options={schemes.map((s) => [s.id, sayWhole(s.name)] as const)}
        onPick={(schemeId) => changeSettings({ schemeId })}
        width={300}
      />
      <PickField
        label={say`Level of the students`}
        value={work.level}
        disabled={!kept}
        options={levels.map((level) => [level, levelName(level)] as const)}
        onPick={(level) => change({ level })}
        width={140}
      />
    </Stack>
  )
}

type DetailsProps = {
  plan: Plan
  set: ConeSet
  part: Part
  computing: boolean
  groupId: string | null
  onChoose: (cone: ConeSet['cones'][number]) => void
}

/** Laying sheet, whom the cones serve, and what is fading out. */
const Details = ({ plan, set, part: { value: work, change, kept }, computing, groupId, onChoose }: DetailsProps) => {
  const [panel, setPanel] = useState<Panel>('sheet')
  const students = useQuery(studentsQuery)
  const { day } = useDay()
  const vehicles = useQuery(vehiclesQuery)
  const { schoolSettings } = useSchoolSettings()
  return (
    <Box>
      <ToggleButtonGroup
        size="small"
        exclusive
        aria-label={say`Beside the ground view`}
        value={panel}
        onChange={(_, next: Panel | null) => next && setPanel(next)}
        sx={{ mb: 1, mr: 4 }}
      >
        {(Object.keys(panelWords) as Panel[]).map((name) => (
          <ToggleButton key={name} value={name} sx={{ py: 0 }}>
            {panelWords[name]}
          </ToggleButton>
        ))}
      </ToggleButtonGroup>
      <Typography component="span" color="text.secondary" className="figures" role="status" sx={{ fontSize: 'size.text' }}>
        {computing ? say`computing …` : stockInWords(set, schoolSettings.stock)}
      </Typography>
      <Box
        role="region"
        aria-label={say`Details, scroll`}
        tabIndex={0}
        sx={{ maxHeight: { md: restOfWindow(560, 280) }, overflow: 'auto' }}
      >
        {panel === 'sheet' ? (
          <LayingTable rows={set.sheet} corners={plan.corners} selected={groupId} onSelect={(row) => onChoose(row.cone)} />
        ) : panel === 'whom' ? (
          <AudienceEditor
            plan={plan}
            work={work}
            shared={set.shared}
            vehicles={vehicles.data ?? []}
            byGroups={day && day.plan.groups.length > 0 ? servedByGroups(day.plan, students.data ?? [], work.level) : null}
            canChange={kept}
            onChange={change}
          />
        ) : (
          <FadingTable plan={plan} fadings={set.fadings} fade={work.fade} canChange={kept} onFade={(fade) => change({ fade })} />
        )}
      </Box>
      <Box sx={{ mt: 2 }}>
        <Caution />
      </Box>
    </Box>
  )
}

const stockInWords = ({ cones }: ConeSet, stock: Partial<Record<string, number>>): string => {
  const counts = Object.keys(coneColours)
    .map((colour) => ({ colour, count: cones.filter((c) => c.colour === colour).length, owned: stock[colour] }))
    .filter((c) => c.count > 0)
  return say`${cones.length} cones: ${counts.map((c) => `${c.count}${c.owned === undefined ? '' : say` of ${c.owned}`} ${c.colour}`).join(', ')}`
}
