import { Box, Button, Stack, Typography } from '@mui/material'
import {
  type ConeKind,
  formatDate,
  formatSpeed,
  type Level,
  levelReaction_s,
  type Mark,
  markOf,
  settingsOfStudent,
  signedDistance,
  type UnitSystem,
  waitFrom,
} from '@ochote/core'
import { useQuery } from '@tanstack/react-query'
import { type ReactNode, useMemo } from 'react'
import { useNavigate, useSearchParams } from 'react-router'
import { studentsQuery } from '../../data/api/queries.ts'
import { DayProvider, useDay } from '../../data/day/day-context.tsx'
import { say } from '../../language/say.ts'
import { staffUnits } from '../../language/staff-units.ts'
import { figures } from '../../look/theme.tsx'
import { LapBand } from '../../shared/band/lap-band.tsx'
import { fromApexIn } from '../../shared/language/corner-in-words.ts'
import { RuleGlyphs } from '../../shared/marks/rule-glyphs.tsx'
import { PrintHead } from '../../shared/print-head.tsx'
import { ProblemNote } from '../../shared/problem-note.tsx'
import { LapSelectionProvider } from '../../shared/selection/lap-selection.tsx'
import { type BriefPage, isBesides, MIN_WAIT_S } from './brief-pages.ts'
import { OwnText } from './page-view.tsx'
import { type BriefingState, useBriefing } from './use-briefing.ts'

/** A briefing on paper: for whom it is. */
type PaperState = BriefingState & { level: Level }

/** The briefing for one student (or for anybody) on paper, in their vehicle, units and language. */
const usePaper = () => {
  const [search] = useSearchParams()
  const studentId = search.get('student')
  const students = useQuery({ ...studentsQuery, enabled: studentId !== null })
  const student = students.data?.find((s) => s.id === studentId)
  const { day } = useDay()
  const change = useMemo(() => (day && studentId ? settingsOfStudent(studentId, day.plan) : undefined), [day, studentId])
  const units: UnitSystem = student?.units ?? staffUnits
  const briefing = useBriefing({
    level: student?.level ?? null,
    language: student?.profile.language ?? null,
    units,
    ...(change ? { change } : {}),
  })
  // Cones are those of the day, whatever this student drives.
  const { state: ofDay } = useBriefing()
  const waiting = studentId !== null && !student
  const level = student?.level ?? day?.plan.cones.level ?? 'first-day'
  const state: PaperState | undefined = !waiting && briefing.state && ofDay ? { ...briefing.state, set: ofDay.set, level } : undefined
  return { state, student, units, error: briefing.error ?? students.error }
}

const Buttons = () => {
  const navigate = useNavigate()
  return (
    <Stack direction="row" spacing={2} className="no-print" sx={{ my: 4 }}>
      <Button variant="contained" onClick={() => window.print()}>
        {say`Print`}
      </Button>
      <Button variant="outlined" onClick={() => navigate(-1)}>
        {say`Back`}
      </Button>
    </Stack>
  )
}

/** The paper of a page: size and margins for the printer, over the usual A4. */
const Paper = ({ css }: { css: string }) => <style>{css}</style>

/** One mark of a corner in a row: its cone, speed, place. */
const MarkLine = ({ mark, state, units }: { mark: Mark; state: PaperState; units: UnitSystem }) => {
  const { plan, set, words } = state
  const rule = set.scheme.rules[mark.kind as ConeKind]
  const apex = markOf(plan.marks, mark.cornerId, 'apex')
  const place = apex ? fromApexIn(words, units, signedDistance(apex.station_m, mark.station_m, plan.circuit.length_m)) : null
  return (
    <>
      <Box component="span">{rule && <RuleGlyphs rule={rule} size={11} />}</Box>
      <Box component="span" sx={{ fontWeight: 600 }}>
        {words.marks[mark.kind]}
      </Box>
      <Box component="span" sx={figures}>
        {formatSpeed(mark.speed_mps, units)}
      </Box>
      <Box component="span" sx={figures}>
        {place ?? ''}
      </Box>
    </>
  )
}

/** Time that this vehicle waits after the brake cone; null where it brakes at the cone. */
const waitAt = (state: PaperState, cornerId: string): string | null => {
  const cone = state.set.cones.filter((c) => c.groupId === `${cornerId}-brake`).at(-1)
  const mark = markOf(state.plan.marks, cornerId, 'brake')
  if (!cone || !mark) return null
  const own_m = mark.station_m - levelReaction_s[state.level] * mark.speed_mps
  const wait_s = waitFrom(state.plan, cone.station_m, own_m)
  return wait_s >= MIN_WAIT_S ? state.words.wait(wait_s.toFixed(1)) : null
}

const cornerPages = (pages: readonly BriefPage[]) => pages.filter((p) => p.kind === 'corner')

const CardCorner = ({ page, state, units }: { page: Extract<BriefPage, { kind: 'corner' }>; state: PaperState; units: UnitSystem }) => {
  const wait = waitAt(state, page.corner.id)
  return (
    <Box className="keep-together" sx={{ borderTop: '0.3mm solid', borderColor: 'divider', py: '0.8mm' }}>
      <Stack direction="row" sx={{ alignItems: 'baseline', justifyContent: 'space-between' }}>
        <Box sx={{ fontWeight: 700, fontSize: 'size.text', fontStretch: '86%' }}>{page.title}</Box>
        <Box sx={{ fontSize: 'size.note', color: 'text.secondary' }}>{[page.facts.split(' · ')[0], wait].filter(Boolean).join(' · ')}</Box>
      </Stack>
      <Box
        sx={{ display: 'grid', gridTemplateColumns: '13mm 17mm 18mm 1fr', fontSize: 'size.note', lineHeight: 1.24, alignItems: 'center' }}
      >
        {page.marks.map((m) => (
          <MarkLine key={m.kind} mark={m} state={state} units={units} />
        ))}
      </Box>
      {page.cure && <Box sx={{ fontSize: 'size.note', fontWeight: 640, lineHeight: 1.2 }}>{page.cure}</Box>}
    </Box>
  )
}

const side = {
  width: '105mm',
  height: '148mm',
  p: '5mm',
  overflow: 'hidden',
  boxSizing: 'border-box',
  '@media screen': { backgroundColor: 'background.default' },
} as const

/** Number of corners that fit on one side of the card. */
const CORNERS_A_SIDE = 6

const Card = () => {
  const { state, student, units, error } = usePaper()
  const { day } = useDay()
  if (!state) return <ProblemNote error={error} />
  const { plan, words, pages, settings } = state
  const corners = cornerPages(pages)
  // Both sides of a card, and of as many cards as a long lap needs.
  const sides = Array.from({ length: Math.max(2, Math.ceil(corners.length / CORNERS_A_SIDE)) }, (_, i) =>
    corners.slice(i * CORNERS_A_SIDE, (i + 1) * CORNERS_A_SIDE),
  )
  return (
    <Box component="main" className="pocket-card" sx={{ width: '105mm', mx: 'auto', '@media print': { m: 0 } }}>
      <Paper css="@page { size: 105mm 148mm; margin: 0; } @media screen { .pocket-card > section { outline: thin solid currentColor; margin-bottom: 6mm; } }" />
      <Buttons />
      {sides.map((corners, i) => (
        <Box
          // biome-ignore lint/suspicious/noArrayIndexKey: sides have no other name
          key={i}
          component="section"
          aria-label={`${words.card.title} ${i + 1}`}
          sx={{ ...side, ...(i > 0 ? { breakBefore: 'page' } : {}) }}
        >
          <Stack direction="row" sx={{ alignItems: 'baseline', justifyContent: 'space-between', mb: '0.6mm' }}>
            <Box component="h1" sx={{ m: 0, fontWeight: 760, fontSize: 'size.lead', fontStretch: '86%' }}>
              {plan.circuit.name}
            </Box>
            <Box sx={{ fontSize: 'size.note' }}>{`${student ? `${words.card.madeFor(student.name)} · ` : ''}${i + 1}/${sides.length}`}</Box>
          </Stack>
          {i === 0 && (
            <Box sx={{ fontSize: 'size.note', mb: '0.6mm' }}>
              {`${formatDate(day?.plan.date ?? '', words.code)} · ${plan.vehicle.name} · ${words.surfaces[settings.surface]} · ${Math.round(settings.pace * 100)}%`}
            </Box>
          )}
          {corners.map((page) => (
            <CardCorner key={page.id} page={page} state={state} units={units} />
          ))}
          {i === sides.length - 1 && (
            <Box sx={{ borderTop: '0.3mm solid', borderColor: 'divider', pt: '0.8mm', fontSize: 'size.note', lineHeight: 1.25 }}>
              {`${words.wrong[0]} ${words.wrong[2]}`}
              <Box sx={{ mt: '0.6mm' }}>{words.caution}</Box>
            </Box>
          )}
        </Box>
      ))}
    </Box>
  )
}

/** The pocket card, A6 on both sides: corners in their order, with cones, speeds and places. */
export const PocketCard = () => (
  <DayProvider>
    <LapSelectionProvider>
      <Card />
    </LapSelectionProvider>
  </DayProvider>
)

const Block = ({ title, safety, children }: { title: string; safety?: boolean; children: ReactNode }) => (
  <Box
    component="section"
    className="keep-together"
    sx={{ borderTop: 'strong', borderColor: safety ? 'error.main' : 'text.primary', pt: 2, mb: 3 }}
  >
    <Typography variant="head" sx={{ mb: 1 }}>
      {title}
    </Typography>
    {children}
  </Box>
)

const HandoutPage = ({ page, state, units }: { page: BriefPage; state: PaperState; units: UnitSystem }) => {
  const { words } = state
  switch (page.kind) {
    case 'lines':
    case 'circuit':
      return (
        <Block title={page.title} safety={page.kind === 'lines' && page.tone === 'safety'}>
          <Box component="ul" sx={{ m: 0, pl: 5 }}>
            {page.lines.map((line) => (
              <li key={line}>{line}</li>
            ))}
          </Box>
          {page.kind === 'circuit' && <LapBand plan={state.plan} layers={{ cones: state.set.cones }} height={130} compact />}
        </Block>
      )
    case 'flags':
      return (
        <Block title={page.title} safety>
          {page.flags.map((f) => (
            <Box key={f.name}>
              <strong>{f.name}</strong>
              {`: ${f.meaning}`}
            </Box>
          ))}
        </Block>
      )
    case 'cones':
      return (
        <Block title={page.title}>
          <Stack direction="row" useFlexGap spacing={4} sx={{ flexWrap: 'wrap' }}>
            {Object.entries(page.scheme.rules).map(([kind, rule]) => (
              <Stack key={kind} direction="row" spacing={1} sx={{ alignItems: 'center' }}>
                <RuleGlyphs rule={rule} size={16} />
                <span>{`${words.marks[kind as ConeKind]} (${words.colours[rule.colour]})`}</span>
              </Stack>
            ))}
          </Stack>
        </Block>
      )
    case 'corner': {
      const wait = waitAt(state, page.corner.id)
      return (
        <Block title={page.title}>
          <Box sx={{ color: 'text.secondary' }}>{page.line}</Box>
          <Box sx={{ display: 'grid', gridTemplateColumns: '18mm 34mm 28mm 1fr', fontSize: 'size.head', my: 1, alignItems: 'center' }}>
            {page.marks.map((m) => (
              <MarkLine key={m.kind} mark={m} state={state} units={units} />
            ))}
          </Box>
          <Box>{[page.facts, wait].filter(Boolean).join(' · ')}</Box>
          {page.cure && <Box sx={{ fontWeight: 600 }}>{page.cure}</Box>}
          {page.tip && <Box sx={{ fontWeight: 600 }}>{page.tip}</Box>}
        </Block>
      )
    }
    case 'questions':
      return (
        <Block title={page.title}>
          {page.asked.map((q) => (
            <Box key={q.text} sx={{ mb: 1 }}>
              <strong>{`${q.where ? `${q.where}: ` : ''}${q.text}`}</strong>
              {` ${q.answer}`}
            </Box>
          ))}
        </Block>
      )
    case 'own':
      return (
        <Block title={page.title}>
          <Box sx={{ '& p': { my: 1 } }}>
            <OwnText text={page.text} />
          </Box>
        </Block>
      )
    // Squares are for a screen; each student's slip carries their own.
    case 'links':
    case 'sighting':
      return null
  }
}

const Paged = () => {
  const { state, student, units, error } = usePaper()
  const { day } = useDay()
  if (!state) return <ProblemNote error={error} />
  const { plan, words, settings, pages } = state
  return (
    <Box component="main" sx={{ width: '182mm', mx: 'auto', fontSize: 'size.head', lineHeight: 1.35, '@media print': { mx: 0 } }}>
      <Buttons />
      <PrintHead />
      <Typography variant="title">{plan.circuit.name}</Typography>
      <Typography sx={{ mb: 3 }}>
        {`${student ? `${words.card.madeFor(student.name)} · ` : ''}${formatDate(day?.plan.date ?? '', words.code)} · ${plan.vehicle.name} · ${words.surfaces[settings.surface]} · ${Math.round(settings.pace * 100)}%`}
      </Typography>
      {pages
        .filter((page) => !isBesides(page))
        .map((page) => (
          <HandoutPage key={page.id} page={page} state={state} units={units} />
        ))}
      <Typography variant="text">{words.caution}</Typography>
    </Box>
  )
}

/** The briefing as a hand-out, A4. */
export const Handout = () => (
  <DayProvider>
    <LapSelectionProvider>
      <Paged />
    </LapSelectionProvider>
  </DayProvider>
)
