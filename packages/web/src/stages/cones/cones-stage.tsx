import { Alert, Box, Button, MenuItem, Stack, TextField, Typography } from '@mui/material'
import { type ColourVision, type ConeScheme, checkScheme, coneColours, coneSchemes, type SchemeProblem } from '@ochote/core'
import { useDeferredValue, useMemo } from 'react'
import { Link } from 'react-router'
import { useDay } from '../../app/day-context.tsx'
import { LapBand } from '../../shared/band/lap-band.tsx'
import { CornerCard } from '../../shared/corner-card/corner-card.tsx'
import { download } from '../../shared/download.ts'
import { GroundView } from '../../shared/ground/ground-view.tsx'
import { ConeGlyph } from '../../shared/marks/cone-glyph.tsx'
import { markNames } from '../../shared/marks/mark-words.ts'
import { usePlan } from '../../shared/plan/use-plan.ts'
import { Caution, ProblemNote } from '../../shared/problem-note.tsx'
import { useLapSelection } from '../../shared/selection/lap-selection.tsx'
import { useLapKeys } from '../../shared/selection/use-lap-keys.ts'
import { LayingTable, layingCsv } from './laying-table.tsx'
import { type ConePlan, useCones } from './use-cones.ts'

/** Lay out cones: they follow pace, surface, vehicle and school at once. */
export const ConesStage = () => {
  const { settings, changeSettings } = useDay()
  const { plan: newest, computing, error } = usePlan(settings)
  const plan = useDeferredValue(newest)
  const conePlan = useCones(plan, settings?.schemeId)
  const layers = useMemo(() => (plan && conePlan ? { marks: plan.marks, cones: conePlan.cones } : {}), [plan, conePlan])
  const { cornerId, selectCorner, moveTo } = useLapSelection()
  useLapKeys(plan)
  if (!plan || !conePlan) return <ProblemNote error={error} />
  return (
    <Stack spacing={1.5}>
      <Stack direction="row" spacing={2} sx={{ alignItems: 'center' }}>
        <Typography variant="h1">Cones</Typography>
        <Typography color="text.secondary" className="figures" role="status">
          {computing ? 'computing …' : stockInWords(conePlan)}
        </Typography>
        <Box sx={{ flex: 1 }} />
        <Button variant="outlined" onClick={() => download('laying-sheet.csv', layingCsv(conePlan.sheet), 'text/csv')}>
          Save CSV
        </Button>
        <Button variant="contained" component={Link} to="/cones/sheet">
          Print the laying sheet
        </Button>
      </Stack>
      <ProblemNote error={error} />
      <LapBand plan={plan} layers={layers} height={210} />
      <Stack direction="row" useFlexGap spacing={3} sx={{ alignItems: 'center', flexWrap: 'wrap' }}>
        <TextField
          select
          label="Scheme"
          value={conePlan.scheme.id}
          onChange={(e) => changeSettings({ schemeId: e.target.value })}
          sx={{ width: 320 }}
        >
          {coneSchemes.map((s) => (
            <MenuItem key={s.id} value={s.id}>
              {s.name}
            </MenuItem>
          ))}
        </TextField>
        <ConeCode conePlan={conePlan} />
      </Stack>
      <SchemeProblems scheme={conePlan.scheme} />
      <Box sx={{ display: 'grid', gridTemplateColumns: 'minmax(0, 0.72fr) minmax(0, 1.28fr)', gap: 2 }}>
        <Box>
          <GroundView plan={plan} cones={conePlan.cones} height={cornerId ? 250 : 330} />
          {cornerId && <CornerCard plan={plan} cornerId={cornerId} />}
        </Box>
        <Box>
          <Box role="region" aria-label="Laying sheet, scrolls" tabIndex={0} sx={{ maxHeight: 330, overflow: 'auto' }}>
            <LayingTable
              rows={conePlan.sheet}
              selected={cornerId}
              onSelect={(row) => {
                selectCorner(row.cornerId)
                moveTo(row.station_m)
              }}
            />
          </Box>
          <Box sx={{ mt: 1.5 }}>
            <Caution />
          </Box>
        </Box>
      </Box>
    </Stack>
  )
}

const visionWords: Record<ColourVision, string> = {
  usual: 'anyone',
  protan: 'eyes that lack red',
  deutan: 'eyes that lack green',
  tritan: 'eyes that lack blue',
}

/** A problem of a scheme in one sentence. */
export const schemeProblemInWords = (problem: SchemeProblem): string => {
  switch (problem.kind) {
    case 'no-brake-cone':
      return 'No cone stands for braking: students brake by feel alone.'
    case 'alike':
      return `${problem.marks.map((m) => markNames[m]).join(' and ')} look the same: change colour, shape or count of one.`
    case 'colours-alike':
      return `${problem.colours.join(' and ')} (${problem.marks.map((m) => markNames[m].toLowerCase()).join(', ')}) look alike to ${problem.visions.map((v) => visionWords[v]).join(', ')}: give one another shape.`
    case 'reserved-colour':
      return `${problem.colour} is kept for pits and hazards here, yet stands for ${markNames[problem.mark].toLowerCase()}.`
  }
}

const SchemeProblems = ({ scheme }: { scheme: ConeScheme }) => {
  const problems = checkScheme(scheme)
  return problems.length === 0 ? null : (
    <Alert severity="warning" icon={false} sx={{ py: 0 }}>
      {problems.map(schemeProblemInWords).join(' ')}
    </Alert>
  )
}

const stockInWords = ({ cones }: ConePlan): string => {
  const counts = Object.keys(coneColours)
    .map((colour) => ({ colour, count: cones.filter((c) => c.colour === colour).length }))
    .filter((c) => c.count > 0)
  return `${cones.length} cones: ${counts.map((c) => `${c.count} ${c.colour}`).join(', ')}`
}

/** What colours and shapes mean here. */
export const ConeCode = ({ conePlan, size = 18 }: { conePlan: Pick<ConePlan, 'scheme'>; size?: number }) => (
  <Stack direction="row" spacing={3} useFlexGap sx={{ flexWrap: 'wrap' }} aria-label="Cone code" component="section">
    {Object.entries(conePlan.scheme.rules).map(([kind, rule]) => (
      <Stack key={kind} direction="row" spacing={0.5} sx={{ alignItems: 'center' }}>
        {Array.from({ length: rule.count }, (_, k) => (
          // biome-ignore lint/suspicious/noArrayIndexKey: the cones of a pair are alike
          <ConeGlyph key={k} colour={rule.colour} shape={rule.shape} size={size} />
        ))}
        <Box component="span" sx={{ fontSize: size * 0.78 }}>{`${markNames[kind as keyof typeof markNames]}, ${rule.side}`}</Box>
      </Stack>
    ))}
  </Stack>
)
