import { Alert, Box, Button, Menu, MenuItem, Stack, ToggleButton, ToggleButtonGroup, Typography } from '@mui/material'
import { api } from '@ochote/contract'
import { type ConeSet, coneColours, cornerName, levelName, levels, writeLayingCsv, writeLayingGeoJson, writeLayingGpx } from '@ochote/core'
import { useQuery } from '@tanstack/react-query'
import { useDeferredValue, useMemo, useState } from 'react'
import { Link } from 'react-router'
import { call } from '../../data/api/api-client.ts'
import { circuitQuery, vehiclesQuery } from '../../data/api/queries.ts'
import { useConeSet, useStaleCones } from '../../data/cones/use-cone-set.ts'
import { useDay } from '../../data/day/day-context.tsx'
import { useDayPart } from '../../data/day/use-day-part.ts'
import { useNumbers, usePlan } from '../../data/plan/use-plan.ts'
import { useSchoolSettings } from '../../data/school/use-school-settings.ts'
import { LapBand } from '../../shared/band/lap-band.tsx'
import { CornerCard } from '../../shared/corner-card/corner-card.tsx'
import { download } from '../../shared/download.ts'
import { GroundView } from '../../shared/ground/ground-view.tsx'
import { PickField } from '../../shared/pick-field.tsx'
import { Caution, ProblemNote } from '../../shared/problem-note.tsx'
import { useLapSelection } from '../../shared/selection/lap-selection.tsx'
import { useLapKeys } from '../../shared/selection/use-lap-keys.ts'
import { UndoRedo } from '../../shared/undo-redo.tsx'
import { AudienceEditor } from './audience-editor.tsx'
import { ConeCode } from './cone-code.tsx'
import { ConeEditor } from './cone-editor.tsx'
import { droppedInWords, hiddenInWords, sameViewInWords, schemeProblemInWords, unplacedInWords } from './cone-words.ts'
import { ConesTabs } from './cones-tabs.tsx'
import { FadingTable } from './fading-table.tsx'
import { LayingTable } from './laying-table.tsx'

type Panel = 'sheet' | 'whom' | 'fading'

/** Lay out cones: they follow pace, surface, vehicles and school at once, and keep what was moved by hand. */
export const ConesStage = () => {
  const { day, settings, changeSettings } = useDay()
  const { plan: newest, computing, error } = usePlan(settings)
  const plan = useDeferredValue(newest)
  const numbers = useNumbers(plan)
  const part = useDayPart('cones')
  const { schoolSettings, schemes, error: schoolError } = useSchoolSettings()
  const set = useConeSet(plan, settings, numbers)
  const vehicles = useQuery(vehiclesQuery)
  const circuit = useQuery({ ...circuitQuery(settings?.circuitId ?? ''), enabled: settings !== undefined })
  const stale = useStaleCones(circuit.data?.version)
  const [panel, setPanel] = useState<Panel>('sheet')
  const [saveError, setSaveError] = useState<unknown>(null)
  const [groupId, setGroupId] = useState<string | null>(null)
  const layers = useMemo(() => (plan && set ? { marks: plan.marks, cones: set.cones } : {}), [plan, set])
  const groundLayers = useMemo(() => (set ? { cones: set.cones } : {}), [set])
  const { cornerId, selectCorner, moveTo } = useLapSelection()
  useLapKeys(plan)
  if (!plan || !set || !settings) return <ProblemNote error={error} />
  const { value: work, change, kept } = part
  const choose = (cone: ConeSet['cones'][number]): void => {
    setGroupId(cone.groupId)
    selectCorner(cone.cornerId || null)
    moveTo(cone.station_m)
  }
  const settle = (): void =>
    change({ settled: { at: new Date().toISOString(), settings, circuitVersion: circuit.data?.version ?? 0, cones: set.cones.length } })
  return (
    <Stack spacing={1}>
      <Stack direction="row" useFlexGap spacing={1.5} sx={{ alignItems: 'center', flexWrap: 'wrap' }}>
        <Typography variant="h1">Cones</Typography>
        <ConesTabs />
        <Box sx={{ flex: 1 }} />
        <UndoRedo undo={part.undo} redo={part.redo} />
        <SaveMenu dayId={day?.id} name={plan.circuit.name} set={set} onError={setSaveError} />
        <Button variant="outlined" size="small" component={Link} to="/cones/sheet">
          Print
        </Button>
        <Button variant="contained" size="small" disabled={!kept} onClick={settle}>
          Sign off these cones
        </Button>
      </Stack>
      <ProblemNote error={error ?? schoolError ?? saveError} />
      {work.settled && stale.length > 0 && (
        <Alert severity="warning" icon={false} role="note" sx={{ py: 0 }}>
          {`The cones signed off at ${work.settled.at.slice(11, 16)} are out of date: ${stale.join('; ')}. Locked cones have not moved. Check the others, then sign off again.`}
        </Alert>
      )}
      <LapBand plan={plan} layers={layers} height={182} onCone={choose} />
      <Stack direction="row" useFlexGap spacing={2.5} sx={{ alignItems: 'flex-end', flexWrap: 'wrap' }}>
        <PickField
          label="Scheme"
          value={set.scheme.id}
          options={schemes.map((s) => [s.id, s.name] as const)}
          onPick={(schemeId) => changeSettings({ schemeId })}
          width={300}
        />
        <PickField
          label="Level of the students"
          value={work.level}
          disabled={!kept}
          options={levels.map((level) => [level, levelName(level)] as const)}
          onPick={(level) => change({ level })}
          width={140}
        />
        <ConeCode scheme={set.scheme} size={16} />
      </Stack>
      <Problems set={set} nameOf={(id) => cornerName(plan.corners, id, id || 'the pit lane')} />
      <Box sx={{ display: 'grid', gridTemplateColumns: 'minmax(0, 0.7fr) minmax(0, 1.3fr)', gap: 2 }}>
        <Box>
          <GroundView plan={plan} layers={groundLayers} height={groupId || cornerId ? 196 : 330} />
          {groupId ? (
            <ConeEditor
              plan={plan}
              cones={set.cones}
              groupId={groupId}
              hands={work}
              numbers={numbers?.corners.find((n) => n.cornerId === cornerId)}
              canChange={kept}
              onChange={change}
              onClose={() => setGroupId(null)}
            />
          ) : (
            cornerId && <CornerCard plan={plan} cornerId={cornerId} />
          )}
        </Box>
        <Box>
          <ToggleButtonGroup
            size="small"
            exclusive
            aria-label="Beside the ground view"
            value={panel}
            onChange={(_, next: Panel | null) => next && setPanel(next)}
            sx={{ mb: 0.5, mr: 2 }}
          >
            <ToggleButton value="sheet" sx={{ py: 0.1 }}>
              Laying sheet
            </ToggleButton>
            <ToggleButton value="whom" sx={{ py: 0.1 }}>
              For whom
            </ToggleButton>
            <ToggleButton value="fading" sx={{ py: 0.1 }}>
              Fading out
            </ToggleButton>
          </ToggleButtonGroup>
          <Typography component="span" color="text.secondary" className="figures" role="status" sx={{ fontSize: '0.9rem' }}>
            {computing ? 'computing …' : stockInWords(set, schoolSettings.stock)}
          </Typography>
          <Box role="region" aria-label="Details, scroll" tabIndex={0} sx={{ maxHeight: 340, overflow: 'auto' }}>
            {panel === 'sheet' ? (
              <LayingTable rows={set.sheet} corners={plan.corners} selected={groupId} onSelect={(row) => choose(row.cone)} />
            ) : panel === 'whom' ? (
              <AudienceEditor
                plan={plan}
                work={work}
                shared={set.shared}
                vehicles={vehicles.data ?? []}
                canChange={kept}
                onChange={change}
              />
            ) : (
              <FadingTable plan={plan} fadings={set.fadings} fade={work.fade} canChange={kept} onFade={(fade) => change({ fade })} />
            )}
          </Box>
          <Box sx={{ mt: 1 }}>
            <Caution />
          </Box>
        </Box>
      </Box>
    </Stack>
  )
}

type SaveMenuProps = { dayId: string | undefined; name: string; set: ConeSet; onError: (error: unknown) => void }

const SaveMenu = ({ dayId, name, set, onError }: SaveMenuProps) => {
  const [anchor, setAnchor] = useState<HTMLElement | null>(null)
  const save = async (write: () => void | Promise<void>): Promise<void> => {
    setAnchor(null)
    try {
      await write()
      onError(null)
    } catch (raised) {
      onError(raised)
    }
  }
  const saveDay = async (id: string): Promise<void> =>
    download('day.json', JSON.stringify(await call(api.dayFile, { params: { dayId: id } })), 'application/json')
  return (
    <>
      <Button variant="outlined" size="small" onClick={(e) => setAnchor(e.currentTarget)}>
        Save as …
      </Button>
      <Menu anchorEl={anchor} open={anchor !== null} onClose={() => setAnchor(null)}>
        <MenuItem onClick={() => save(() => download('laying-sheet.csv', writeLayingCsv(set.sheet), 'text/csv'))}>CSV table</MenuItem>
        <MenuItem onClick={() => save(() => download('laying-sheet.gpx', writeLayingGpx(name, set.sheet), 'application/gpx+xml'))}>
          GPX waypoints
        </MenuItem>
        <MenuItem onClick={() => save(() => download('laying-sheet.geojson', writeLayingGeoJson(set.sheet), 'application/geo+json'))}>
          GeoJSON points
        </MenuItem>
        {dayId && <MenuItem onClick={() => save(() => saveDay(dayId))}>Day file for the command line</MenuItem>}
      </Menu>
    </>
  )
}

/** What asks for attention before the truck leaves, gravest first; the rest opens on demand. */
const Problems = ({ set, nameOf }: { set: ConeSet; nameOf: (cornerId: string) => string }) => {
  const [all, setAll] = useState(false)
  const grave = [
    ...set.problems.map(schemeProblemInWords),
    ...set.unplaced.map((u) => unplacedInWords(u, nameOf)),
    ...droppedInWords(set.dropped, nameOf),
    ...set.hidden.filter((h) => h.helps !== 'sighter').map((h) => hiddenInWords(h, nameOf)),
    ...set.views.filter((v) => v.sameShape).map((v) => sameViewInWords(v, nameOf)),
  ]
  const light = [
    ...set.hidden.filter((h) => h.helps === 'sighter').map((h) => hiddenInWords(h, nameOf)),
    ...set.views.filter((v) => !v.sameShape).map((v) => sameViewInWords(v, nameOf)),
  ]
  if (grave.length + light.length === 0) return null
  const shown = all ? [...grave, ...light] : [...grave, ...light].slice(0, Math.max(1, Math.min(2, grave.length)))
  const more = grave.length + light.length - shown.length
  return (
    <Box
      role="note"
      sx={{
        borderLeft: '6px solid',
        borderColor: grave.length > 0 ? 'warning.main' : 'divider',
        pl: 1.5,
        fontSize: '0.9rem',
        lineHeight: 1.35,
      }}
    >
      {shown.map((line, i) => (
        <Box key={line}>
          {line}
          {(more > 0 || all) && i === shown.length - 1 && (
            <Button size="small" variant="text" onClick={() => setAll(!all)} sx={{ minHeight: 0, p: 0, ml: 1.5, minWidth: 0 }}>
              {all ? 'Fewer' : `${more} more`}
            </Button>
          )}
        </Box>
      ))}
    </Box>
  )
}

const stockInWords = ({ cones }: ConeSet, stock: Partial<Record<string, number>>): string => {
  const counts = Object.keys(coneColours)
    .map((colour) => ({ colour, count: cones.filter((c) => c.colour === colour).length, owned: stock[colour] }))
    .filter((c) => c.count > 0)
  return `${cones.length} cones: ${counts.map((c) => `${c.count}${c.owned === undefined ? '' : ` of ${c.owned}`} ${c.colour}`).join(', ')}`
}
