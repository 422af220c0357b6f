import { Box, Stack, Typography } from '@mui/material'
import type { Debrief } from '@ochote/contract'
import {
  type Advice,
  adviceLimitsOf,
  cornerName,
  cornerOf,
  formatDifference,
  formatLapTime,
  leastTold_s,
  type MarkKind,
  type MistakeCode,
  markOf,
  nearestReference,
  type Plan,
  type StuckRate,
  selectAdvice,
  selectPraise,
  timeToFind,
} from '@ochote/core'
import { type ReactNode, useMemo } from 'react'
import { inside, say } from '../../language/say.ts'
import { fineMetres, metres } from '../../language/staff-units.ts'
import { adviceText, evidenceText, mistakeName, praiseText } from '../../shared/language/staff-words.ts'
import { useLapSelection } from '../../shared/selection/lap-selection.tsx'
import { WordHelp } from '../../shared/word-help.tsx'
import { SaidIt } from './said-it.tsx'

const reasonWords: Record<Advice['reason'], string> = {
  safety: say`Safety first`,
  'most-time': say`Costs the most time`,
  time: say`Costs time`,
  margin: say`Costs margin`,
}

/** Corrections said after this run, how often which wording stuck with this student, and how to keep another. */
export type Said = {
  known: readonly { id: string; cornerId: string; code: MistakeCode; words: string }[]
  rates: readonly StuckRate[]
  onSay: (advice: Advice, words: string) => void
  onTakeBack: (id: string) => void
}

/** Three findings, each with its size, how right feels, and something for the next run; then what held. */
export const SayFirst = ({
  plan,
  debrief,
  said: told,
  pictureOf,
}: {
  plan: Plan
  debrief: Debrief
  /** Words said about each corner, and how to add to them; absent for readers. */
  said?: Said
  /** A drawing of where a finding shows, for readers on a phone. */
  pictureOf?: (advice: Advice) => ReactNode
}) => {
  const { selectCorner, moveTo, cornerId } = useLapSelection()
  const { findings, review } = debrief
  const limits = useMemo(() => adviceLimitsOf(plan), [plan])
  const shares = useMemo(() => timeToFind(review.passes), [review])
  const said = useMemo(
    () => selectAdvice(findings, (id) => review.passes.filter((p) => p.cornerId === id).length, limits, shares),
    [findings, review, limits, shares],
  )
  const praised = useMemo(() => selectPraise(findings, review.passes), [findings, review])
  const nameOf = (id: string): string => cornerName(plan.corners, id)
  const least_s = leastTold_s(review.quality?.noise_m ?? 0)
  return (
    <Box component="section" aria-label={say`What to say`}>
      <Box sx={{ display: 'grid', gridTemplateColumns: { xs: '1fr', md: 'repeat(3, minmax(0, 1fr))', lg: 'minmax(0, 1fr)' }, gap: 4 }}>
        {said.map((advice, i) => {
          const words = adviceText(advice)
          const share = shares.find((s) => s.cornerId === advice.cornerId)?.share ?? 0
          return (
            <Box
              key={`${advice.cornerId}${advice.code}`}
              component="article"
              aria-label={nameOf(advice.cornerId)}
              onClick={() => {
                selectCorner(advice.cornerId)
                moveTo(cornerOf(plan.corners, advice.cornerId)?.peak_m ?? null)
              }}
              sx={{
                borderTop: 'note',
                borderColor: advice.reason === 'safety' ? 'error.main' : advice.cornerId === cornerId ? 'primary.main' : 'text.primary',
                pt: 2,
                cursor: 'pointer',
              }}
            >
              <Stack direction="row" sx={{ alignItems: 'baseline', justifyContent: 'space-between' }}>
                <Typography component="h2" sx={{ fontWeight: 680 }}>
                  {`${i + 1}. ${nameOf(advice.cornerId)}`}
                  {i === 0 && <WordHelp word="one-per-corner" />}
                </Typography>
                <Typography variant="text" color={advice.reason === 'safety' ? 'error.main' : 'text.secondary'}>
                  {reasonWords[advice.reason]}
                  {advice.reason === 'safety' && <WordHelp word="margin" />}
                </Typography>
              </Stack>
              <Typography sx={{ fontSize: 'size.head', fontWeight: 640, my: 1 }}>{words.say}</Typography>
              <Typography variant="text">{say`When it’s right: ${lower(words.cue)}`}</Typography>
              <Typography variant="text">{say`Next run: ${lower(words.next)}`}</Typography>
              <LastingMark plan={plan} advice={advice} />
              {pictureOf?.(advice)}
              <Typography variant="text" color="text.secondary" className="figures" sx={{ mt: 1 }}>
                {[
                  `${mistakeName(advice.code)}: ${evidenceText(advice)}`,
                  say`${advice.laps.length} of ${advice.passes} laps`,
                  advice.time_s > least_s ? say`${formatDifference(advice.time_s)} a lap` : null,
                  share < 0.05 ? null : say`${Math.round(100 * share)}% of the time to find`,
                  advice.certainty >= SURE ? say`sure` : say`likely`,
                ]
                  .filter(Boolean)
                  .join(' · ')}
                <WordHelp word="certain" />
              </Typography>
              {told && (
                <SaidIt
                  advice={advice}
                  said={told.known.filter((s) => s.cornerId === advice.cornerId && s.code === advice.code)}
                  rates={told.rates}
                  onSay={(words) => told.onSay(advice, words)}
                  onTakeBack={told.onTakeBack}
                />
              )}
            </Box>
          )
        })}
        {said.length === 0 && <Typography>{say`Nothing stood out against the plan. Say so, and go on like this.`}</Typography>}
      </Box>
      <Stack direction="row" spacing={6} useFlexGap sx={{ mt: 3, flexWrap: 'wrap' }}>
        {praised.length > 0 && (
          <Box aria-label={say`What held`} component="section" sx={{ flex: 2, minWidth: 320 }}>
            <Typography component="h2" sx={{ fontWeight: 680 }}>
              {say`What held`}
              <WordHelp word="held" />
            </Typography>
            {praised.map((praise) => (
              <Typography key={praise.cornerId} variant="text">
                <Box component="span" sx={{ fontWeight: 620, mr: 2 }}>
                  {nameOf(praise.cornerId)}
                </Box>
                {praiseText(praise)}
              </Typography>
            ))}
          </Box>
        )}
        <TheoreticalBest debrief={debrief} nameOf={nameOf} />
      </Stack>
    </Box>
  )
}

/** From this certainty on a finding is called sure. */
const SURE = 0.9

/** Marks that some advice is about, by the mistake. */
const markFor: Partial<Record<Advice['code'], MarkKind>> = {
  'brake-early': 'brake',
  'brake-late': 'brake',
  'lift-early': 'lift',
  'lift-late': 'lift',
  'lift-missing': 'lift',
  'turn-in-early': 'turn-in',
  'turn-in-late': 'turn-in',
}
/** A lasting reference further from a mark than this is none for it (m). */
const REFERENCE_M = 40

/** The place of a mark by something that stays when the cones are gone, where the circuit has it. */
const LastingMark = ({ plan, advice }: { plan: Plan; advice: Advice }) => {
  const kind = markFor[advice.code]
  const mark = kind && markOf(plan.marks, advice.cornerId, kind)
  const near = mark && nearestReference(plan.ground, mark.station_m, plan.circuit.length_m, REFERENCE_M)
  if (!near) return null
  const by_m = Math.round(Math.abs(near.past_m))
  const where = by_m < 2 ? say`at “${near.name}”` : `${metres(by_m)} ${near.past_m > 0 ? say`past` : say`before`} “${near.name}”`
  return <Typography variant="text">{say`The mark is ${where}.`}</Typography>
}

const lower = (text: string): string => text.charAt(0).toLowerCase() + text.slice(1)

/** Where brake and throttle come from, if not from pedals. */
const pedalsInWords = ({ pedals, source, mounting }: NonNullable<Debrief['review']['quality']>): string | null => {
  if (pedals) return null
  if (source !== 'accelerations') return say`no pedals recorded: derived from speed`
  const sits = mounting
    ? say`, which sits turned by ${Math.round(mounting.turned_deg)}° and shows ${Math.abs(mounting.offset_g).toFixed(2)} g at rest`
    : ''
  return say`no pedals recorded: derived from the accelerometer${sits}`
}

/** Time to find, and what the log cannot tell. */
const TheoreticalBest = ({ debrief, nameOf }: { debrief: Debrief; nameOf: (id: string) => string }) => {
  const { review } = debrief
  const { theoreticalBest, quality, undecidableCodes, undecidable } = review
  const left_s = timeToFind(review.passes).reduce((sum, corner) => sum + corner.time_s, 0)
  const silent = undecidable.filter((u) => u.codes === 'all')
  return (
    <Box component="section" aria-label={say`Time to find`} sx={{ flex: 1, minWidth: 280 }}>
      <Typography component="h2" sx={{ fontWeight: 680 }}>
        {say`Time to find`}
        <WordHelp word="time-to-find" />
      </Typography>
      <Typography variant="text" className="figures">
        {theoreticalBest
          ? say`${formatLapTime(theoreticalBest.ideal_s)} from the best pieces that join at matching speeds; best lap ${formatLapTime(theoreticalBest.best_s)}: ${(theoreticalBest.best_s - theoreticalBest.ideal_s).toFixed(2)} s to find.`
          : say`Needs two complete laps.`}
        {left_s > 0 && say` The usual lap leaves ${left_s.toFixed(2)} s against the best pass of each corner; shares are of that.`}
      </Typography>
      {quality && (
        <Typography variant="text" color="text.secondary" className="figures">
          {[
            `${quality.rate_hz.toFixed(0)} Hz`,
            say`positions repeat within ${fineMetres(Math.max(0.1, quality.noise_m))} (drift of ${fineMetres(quality.drift_m)} removed)`,
            quality.positions ? null : say`no positions: each lap is laid on the circuit by distance, so nothing is said of its line`,
            pedalsInWords(quality),
            review.cutRow === undefined ? null : say`the last row (${review.cutRow}) ends in the middle and was left out`,
            undecidableCodes.length > 0 ? say`cannot tell: ${undecidableCodes.map((code) => inside(mistakeName(code))).join(', ')}` : null,
            silent.length > 0
              ? say`no data at ${[...new Set(silent.map((u) => say`${nameOf(u.cornerId)}, lap ${u.lap}`))].slice(0, 4).join(', ')}`
              : null,
          ]
            .filter(Boolean)
            .join(' · ')}
          <WordHelp word={undecidableCodes.length + silent.length > 0 ? 'undecidable' : 'drift'} />
        </Typography>
      )}
    </Box>
  )
}
