import { Box, Stack, Typography } from '@mui/material'
import { type ConeKind, type ConeRule, formatSpeed, type Mark, signedDistance } from '@ochote/core'
import Markdown from 'react-markdown'
import { figures } from '../../look/theme.ts'
import { cornerLabel } from '../../shared/corner-card/corner-words.ts'
import { GroundView } from '../../shared/ground/ground-view.tsx'
import { fromApexIn } from '../../shared/language/corner-in-words.ts'
import { RuleGlyphs } from '../../shared/marks/rule-glyphs.tsx'
import type { BriefPage } from './brief-pages.ts'
import { SightingLap } from './sighting-lap.tsx'
import type { BriefingState } from './use-briefing.ts'

type State = Pick<BriefingState, 'plan' | 'set' | 'words'>
type PageOf<K extends BriefPage['kind']> = Extract<BriefPage, { kind: K }>

/** One briefing page, readable from eight metres: nothing below 28 px at 1280 × 800. */
export const PageView = ({ page, state }: { page: BriefPage; state: State }) => {
  switch (page.kind) {
    case 'lines':
      return <LinesPage page={page} />
    case 'flags':
      return <FlagsPage page={page} />
    case 'cones':
      return <ConesPage page={page} state={state} />
    case 'circuit':
      return <CircuitPage page={page} state={state} />
    case 'sighting':
      return <SightingLap title={page.title} state={state} />
    case 'corner':
      return <CornerPage page={page} state={state} />
    case 'questions':
      return <QuestionsPage page={page} />
    case 'own':
      return <OwnPage page={page} />
  }
}

const PageTitle = ({ title }: { title: string }) => (
  <Typography component="h1" sx={{ fontSize: 56, fontWeight: 680, fontStretch: '86%', lineHeight: 1.05, letterSpacing: '-0.01em' }}>
    {title}
  </Typography>
)

const LinesPage = ({ page }: { page: PageOf<'lines'> }) => (
  <Stack spacing={4} sx={{ maxWidth: 1080 }}>
    <PageTitle title={page.title} />
    <Stack component="ol" spacing={2.5} sx={{ m: 0, pl: 0, listStyle: 'none', counterReset: 'n' }}>
      {page.lines.map((line) => (
        <Box
          component="li"
          key={line}
          sx={{
            fontSize: page.lines.length > 6 ? 29 : 34,
            lineHeight: 1.22,
            pl: 3,
            borderLeft: '8px solid',
            borderColor: page.tone === 'safety' ? 'error.main' : 'primary.main',
          }}
        >
          {line}
        </Box>
      ))}
    </Stack>
  </Stack>
)

const FlagsPage = ({ page }: { page: PageOf<'flags'> }) => (
  <Stack spacing={4}>
    <PageTitle title={page.title} />
    <Box sx={{ display: 'grid', gridTemplateColumns: 'auto 1fr', columnGap: 5, rowGap: 2.2, alignItems: 'baseline' }}>
      {page.flags.map((flag) => (
        <Box key={flag.name} sx={{ display: 'contents' }}>
          <Box sx={{ fontSize: 36, fontWeight: 680 }}>{flag.name}</Box>
          <Box sx={{ fontSize: 32 }}>{flag.meaning}</Box>
        </Box>
      ))}
    </Box>
  </Stack>
)

const ConesPage = ({ page, state: { words } }: { page: PageOf<'cones'>; state: State }) => (
  <Stack spacing={Object.keys(page.scheme.rules).length > 6 ? 2 : 4}>
    <PageTitle title={page.title} />
    {(Object.entries(page.scheme.rules) as [ConeKind, ConeRule][]).map(([kind, rule]) => (
      <Stack key={kind} direction="row" spacing={4} sx={{ alignItems: 'center' }}>
        <Stack direction="row" sx={{ width: 170 }}>
          <RuleGlyphs rule={rule} size={56} />
        </Stack>
        <Box sx={{ fontSize: 36, fontWeight: 640, width: 240 }}>{words.marks[kind]}</Box>
        <Box sx={{ fontSize: 30 }}>
          {`${rule.count > 1 ? `${rule.count} × ` : ''}${words.colours[rule.colour]}, ${words.shapes[rule.shape]}${kind === 'pit-lane' || kind === 'no-go' ? '' : `, ${words.sides[rule.side]}`}`}
        </Box>
      </Stack>
    ))}
  </Stack>
)

const CircuitPage = ({ page, state: { plan } }: { page: PageOf<'circuit'>; state: State }) => (
  <Stack spacing={1.5}>
    <PageTitle title={page.title} />
    {page.lines.map((line) => (
      <Box key={line} sx={{ fontSize: 29, lineHeight: 1.25 }}>
        {line}
      </Box>
    ))}
    <Box sx={{ display: 'grid', gridTemplateColumns: '1.3fr 1fr', gap: 4 }}>
      <GroundView plan={plan} zoomToCorner={false} height={470} big />
      <Box sx={{ columnCount: plan.corners.length > 11 ? 2 : 1, fontSize: plan.corners.length > 11 ? 28 : 30, lineHeight: 1.34 }}>
        {plan.corners.map((c) => (
          <Box key={c.id} sx={figures}>
            {cornerLabel(c)}
          </Box>
        ))}
      </Box>
    </Box>
  </Stack>
)

/** Least road shown before a corner (m). */
const MIN_BEFORE_M = 60
/** Road shown before the first cone (m). */
const BEFORE_CONE_M = 40

const CornerPage = ({ page, state }: { page: PageOf<'corner'>; state: State }) => {
  const { plan, set, words } = state
  const apex = page.marks.find((m) => m.kind === 'apex')
  const cones_m = set.cones
    .filter((c) => c.cornerId === page.corner.id)
    .map((c) => signedDistance(c.station_m, page.corner.start_m, plan.circuit.length_m))
  const first_m = Math.max(MIN_BEFORE_M, ...cones_m)
  return (
    <Stack spacing={1.5}>
      <PageTitle title={page.title} />
      <Box sx={{ fontSize: 29, color: 'text.secondary' }}>{page.line}</Box>
      <Box sx={{ display: 'grid', gridTemplateColumns: '1fr 1fr', gap: 4 }}>
        <Stack spacing={2} sx={{ pt: 0.5 }}>
          {page.marks.map((m) => (
            <MarkRow key={m.kind} mark={m} apex={apex} state={state} />
          ))}
          {page.facts !== '' && <Box sx={{ fontSize: 28, lineHeight: 1.25 }}>{page.facts}</Box>}
          {page.waits.map((wait) => (
            <Box key={wait} sx={{ fontSize: 28, lineHeight: 1.2, fontWeight: 620 }}>
              {wait}
            </Box>
          ))}
          {page.cure && (
            <Box sx={{ fontSize: 28, lineHeight: 1.25, fontWeight: 620, borderLeft: '8px solid', borderColor: 'warning.main', pl: 2 }}>
              {page.cure}
            </Box>
          )}
          {page.tip && (
            <Box sx={{ fontSize: 28, lineHeight: 1.25, borderLeft: '8px solid', borderColor: 'warning.main', pl: 2 }}>{page.tip}</Box>
          )}
          <Box sx={{ fontSize: 28, color: 'text.secondary', lineHeight: 1.2 }}>{words.fromApex}</Box>
        </Stack>
        <GroundView plan={plan} layers={{ cones: set.cones }} before_m={first_m + BEFORE_CONE_M} height={550} big />
      </Box>
    </Stack>
  )
}

const QuestionsPage = ({ page }: { page: PageOf<'questions'> }) => (
  <Stack spacing={3} sx={{ maxWidth: 1120 }}>
    <PageTitle title={page.title} />
    {page.asked.map((q) => (
      <Box key={q.text} sx={{ borderLeft: '8px solid', borderColor: 'primary.main', pl: 3 }}>
        <Box sx={{ fontSize: 30, fontWeight: 640, lineHeight: 1.2 }}>{`${q.where ? `${q.where}: ` : ''}${q.text}`}</Box>
        <Box sx={{ fontSize: 29, lineHeight: 1.25 }}>{q.answer}</Box>
      </Box>
    ))}
  </Stack>
)

const OwnPage = ({ page }: { page: PageOf<'own'> }) => (
  <Stack spacing={3} sx={{ maxWidth: 1120 }}>
    <PageTitle title={page.title} />
    <Box
      sx={{
        fontSize: 32,
        lineHeight: 1.3,
        '& p': { m: 0, mb: 2 },
        '& h1, & h2, & h3': { fontSize: 38, m: 0, mb: 1 },
        '& li': { mb: 1 },
      }}
    >
      <OwnText text={page.text} />
    </Box>
  </Stack>
)

/** Markdown without anything that a page of the school's own must not do: no HTML, no pictures from elsewhere, links as text. */
export const OwnText = ({ text }: { text: string }) => (
  <Markdown skipHtml disallowedElements={['img', 'a', 'iframe', 'script']} unwrapDisallowed>
    {text}
  </Markdown>
)

const MarkRow = ({ mark, apex, state: { plan, set, words } }: { mark: Mark; apex: Mark | undefined; state: State }) => {
  const rule = set.scheme.rules[mark.kind as ConeKind]
  const toApex = apex ? fromApexIn(words, 'metric', signedDistance(apex.station_m, mark.station_m, plan.circuit.length_m)) : null
  return (
    <Stack direction="row" spacing={2} sx={{ alignItems: 'center' }}>
      <Stack direction="row" sx={{ width: 104, flex: 'none' }}>
        {rule && <RuleGlyphs rule={rule} size={rule.count > 2 ? 34 : 46} />}
      </Stack>
      <Box sx={{ fontSize: 34, fontWeight: 640, width: 150, flex: 'none', fontStretch: '88%' }}>{words.marks[mark.kind]}</Box>
      <Box sx={{ fontSize: 32, whiteSpace: 'nowrap', ...figures }}>
        {`${formatSpeed(mark.speed_mps, 'metric')}${toApex ? `, ${toApex}` : ''}`}
      </Box>
    </Stack>
  )
}
