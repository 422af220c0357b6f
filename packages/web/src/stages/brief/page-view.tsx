import { Box, Stack, Typography } from '@mui/material'
import { type ConeKind, type ConeRule, type Mark, signedDistance } from '@ochote/core'
import Markdown from 'react-markdown'
import { speedInWords } from '../../language/staff-units.ts'
import { figures } from '../../look/theme.tsx'
import { cornerLabel } from '../../shared/corner-card/corner-words.ts'
import { FlagSign } from '../../shared/flag-sign.tsx'
import { GroundView } from '../../shared/ground/ground-view.tsx'
import { fromApexIn } from '../../shared/language/corner-in-words.ts'
import { RuleGlyphs } from '../../shared/marks/rule-glyphs.tsx'
import { QrWall } from '../../shared/qr-address.tsx'
import type { BriefPage } from './brief-pages.ts'
import { SightingLap } from './sighting-lap.tsx'
import type { BriefingState } from './use-briefing.ts'

type State = Pick<BriefingState, 'plan' | 'set' | 'words' | 'settings'>
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
    case 'links':
      return <LinksPage page={page} />
    case 'own':
      return <OwnPage page={page} />
  }
}

const PageTitle = ({ title }: { title: string }) => (
  <Typography
    component="h1"
    sx={{ fontSize: 'size.head', fontWeight: 680, fontStretch: '86%', lineHeight: 1.05, letterSpacing: '-0.01em' }}
  >
    {title}
  </Typography>
)

const LinesPage = ({ page }: { page: PageOf<'lines'> }) => (
  <Stack spacing={6} sx={{ minHeight: 'calc(100dvh - 128px)', justifyContent: page.lines.length < 5 ? 'center' : 'flex-start' }}>
    <PageTitle title={page.title} />
    <Stack component="ol" spacing={5} sx={{ m: 0, pl: 0, listStyle: 'none', counterReset: 'n' }}>
      {page.lines.map((line) => (
        <Box
          component="li"
          key={line}
          sx={{
            fontSize: page.lines.length > 6 ? 'size.note' : page.lines.length < 5 ? 'size.lead' : 'size.text',
            lineHeight: 1.22,
            pl: 5,
            borderLeft: 'far',
            borderColor: page.tone === 'safety' ? 'error.main' : 'text.primary',
          }}
        >
          {line}
        </Box>
      ))}
    </Stack>
  </Stack>
)

const FlagsPage = ({ page }: { page: PageOf<'flags'> }) => (
  <Stack spacing={6}>
    <PageTitle title={page.title} />
    <Box sx={{ display: 'grid', gridTemplateColumns: 'auto auto 1fr', columnGap: 6, rowGap: 4, alignItems: 'center' }}>
      {page.flags.map((flag) => (
        <Box key={flag.name} sx={{ display: 'contents' }}>
          <FlagSign name={flag.name} height={56} />
          <Box sx={{ fontSize: 'size.text', fontWeight: 680 }}>{flag.name}</Box>
          <Box sx={{ fontSize: 'size.text' }}>{flag.meaning}</Box>
        </Box>
      ))}
    </Box>
  </Stack>
)

const ConesPage = ({ page, state: { words } }: { page: PageOf<'cones'>; state: State }) => (
  <Stack spacing={Object.keys(page.scheme.rules).length > 6 ? 2 : 4}>
    <PageTitle title={page.title} />
    {(Object.entries(page.scheme.rules) as [ConeKind, ConeRule][]).map(([kind, rule]) => (
      <Stack key={kind} direction="row" spacing={6} sx={{ alignItems: 'center' }}>
        <Stack direction="row" sx={{ width: 170 }}>
          <RuleGlyphs rule={rule} size={56} />
        </Stack>
        <Box sx={{ fontSize: 'size.text', fontWeight: 640, width: 240 }}>{words.marks[kind]}</Box>
        <Box sx={{ fontSize: 'size.text' }}>
          {`${rule.count > 1 ? `${rule.count} × ` : ''}${words.colours[rule.colour]}, ${words.shapes[rule.shape]}${kind === 'pit-lane' || kind === 'no-go' ? '' : `, ${words.sides[rule.side]}`}`}
        </Box>
      </Stack>
    ))}
  </Stack>
)

const CircuitPage = ({ page, state: { plan } }: { page: PageOf<'circuit'>; state: State }) => (
  <Stack spacing={3}>
    <PageTitle title={page.title} />
    {page.lines.map((line) => (
      <Box key={line} sx={{ fontSize: 'size.note', lineHeight: 1.25 }}>
        {line}
      </Box>
    ))}
    <Box sx={{ display: 'grid', gridTemplateColumns: { xs: 'minmax(0, 1fr)', sm: '1.3fr 1fr' }, gap: 6 }}>
      <GroundView plan={plan} zoomToCorner={false} height={470} big />
      <Box sx={{ columnCount: plan.corners.length > 11 ? 2 : 1, fontSize: 'size.note', lineHeight: 1.34 }}>
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
    <Stack spacing={3}>
      <PageTitle title={page.title} />
      <Box sx={{ fontSize: 'size.note', color: 'text.secondary' }}>{page.line}</Box>
      <Box sx={{ display: 'grid', gridTemplateColumns: { xs: 'minmax(0, 1fr)', sm: '1fr 1fr' }, gap: 6 }}>
        <Stack spacing={4} sx={{ pt: 1 }}>
          {page.marks.map((m) => (
            <MarkRow key={m.kind} mark={m} apex={apex} state={state} />
          ))}
          {page.facts !== '' && <Box sx={{ fontSize: 'size.note', lineHeight: 1.25 }}>{page.facts}</Box>}
          {page.cure && (
            <Box sx={{ fontSize: 'size.note', lineHeight: 1.25, fontWeight: 620, borderLeft: 'far', borderColor: 'warning.main', pl: 4 }}>
              {page.cure}
            </Box>
          )}
          <Box sx={{ fontSize: 'size.note', color: 'text.secondary', lineHeight: 1.2 }}>{words.fromApex}</Box>
        </Stack>
        <GroundView
          plan={plan}
          layers={{ cones: set.cones.filter((c) => c.cornerId === page.corner.id) }}
          before_m={first_m + BEFORE_CONE_M}
          height={550}
          big
        />
      </Box>
    </Stack>
  )
}

const QuestionsPage = ({ page }: { page: PageOf<'questions'> }) => (
  <Stack spacing={5} sx={{ maxWidth: 1120 }}>
    <PageTitle title={page.title} />
    {page.asked.map((q) => (
      <Box key={q.text} sx={{ borderLeft: 'far', borderColor: 'text.primary', pl: 5 }}>
        <Box sx={{ fontSize: 'size.text', fontWeight: 640, lineHeight: 1.2 }}>{`${q.where ? `${q.where}: ` : ''}${q.text}`}</Box>
        <Box sx={{ fontSize: 'size.note', lineHeight: 1.25 }}>{q.answer}</Box>
      </Box>
    ))}
  </Stack>
)

const LinksPage = ({ page }: { page: PageOf<'links'> }) => (
  <Stack spacing={4}>
    <PageTitle title={page.title} />
    <Box sx={{ fontSize: 'size.note' }}>{page.line}</Box>
    <QrWall squares={page.links} />
  </Stack>
)

const OwnPage = ({ page }: { page: PageOf<'own'> }) => (
  <Stack spacing={5} sx={{ maxWidth: 1120 }}>
    <PageTitle title={page.title} />
    <Box
      sx={{
        fontSize: 'size.text',
        lineHeight: 1.3,
        '& p': { m: 0, mb: 4 },
        '& h1, & h2, & h3': { fontSize: 'size.lead', m: 0, mb: 2 },
        '& li': { mb: 2 },
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
    <Stack direction="row" useFlexGap spacing={4} sx={{ alignItems: 'center', flexWrap: { xs: 'wrap', sm: 'nowrap' } }}>
      <Stack direction="row" sx={{ width: 104, flex: 'none' }}>
        {rule && <RuleGlyphs rule={rule} size={rule.count > 2 ? 34 : 46} />}
      </Stack>
      <Box sx={{ fontSize: 'size.text', fontWeight: 640, width: 150, flex: 'none', fontStretch: '88%' }}>{words.marks[mark.kind]}</Box>
      <Box sx={{ fontSize: 'size.text', whiteSpace: 'nowrap', ...figures }}>
        {`${speedInWords(mark.speed_mps)}${toApex ? `, ${toApex}` : ''}`}
      </Box>
    </Stack>
  )
}
