import { Box, Stack, TableBody, TableCell, TableHead, TableRow, Typography } from '@mui/material'
import { type DayGap, type Share, skillPicture } from '@ochote/core'
import { useMemo } from 'react'
import { inside, say } from '../../language/say.ts'
import { columns } from '../../look/columns.ts'
import { mistakeName, shareInWords, skillName } from '../../shared/language/staff-words.ts'
import { RowTable } from '../../shared/row-table.tsx'
import { WordHelp } from '../../shared/word-help.tsx'
import { FromMemory } from './from-memory.tsx'
import type { LogbookPage } from './logbook-page.ts'
import { MistakeGrid } from './mistake-grid.tsx'

/** Mistakes by corner: whether they get rarer, which corrections stuck, and what is forgotten between days. */
export const MistakesPage = ({ record, book, nameOf }: LogbookPage) => (
  <Stack spacing={5}>
    <SkillGrid passes={book.passes} nameOf={nameOf} />
    <MistakeGrid
      seen={record.seen.filter((s) => s.circuitId === book.circuitId)}
      runs={record.runs.filter((r) => r.settings.circuitId === book.circuitId)}
      nameOf={nameOf}
      tallies={book.tallies}
    />
    <Box sx={columns('minmax(0, 1.2fr) minmax(0, 1fr)')}>
      <Corrections rates={book.rates} />
      <BetweenDays gaps={book.gaps} />
    </Box>
    <FromMemory record={record} circuitId={book.circuitId} nameOf={nameOf} />
  </Stack>
)

const BAR = { width: 9, height: 20 }

/** Corner × skill over the runs: a bar a run, as high as the share of passes with a mistake of that skill. */
const SkillGrid = ({ passes, nameOf }: { passes: LogbookPage['book']['passes']; nameOf: (id: string) => string }) => {
  const picture = useMemo(() => skillPicture(passes), [passes])
  if (picture.skills.length === 0) return null
  return (
    <Box component="section" aria-label={say`Corner by skill over runs`}>
      <Typography variant="head" component="h3" gutterBottom>
        {say`Corner by skill over runs`}
      </Typography>
      <RowTable aria-label={say`Corner by skill`}>
        <TableHead>
          <TableRow>
            <TableCell>{say`Corner`}</TableCell>
            {picture.skills.map((skill) => (
              <TableCell key={skill}>{skillName(skill)}</TableCell>
            ))}
          </TableRow>
        </TableHead>
        <TableBody>
          {picture.cornerIds.map((cornerId) => (
            <TableRow key={cornerId}>
              <TableCell sx={{ fontWeight: 600 }}>{nameOf(cornerId)}</TableCell>
              {picture.cells
                .filter((c) => c.cornerId === cornerId)
                .map((cell) => (
                  <TableCell key={cell.skill}>
                    <Bars label={`${nameOf(cornerId)}, ${skillName(cell.skill)}`} runs={cell.runs} all={cell.missed} />
                  </TableCell>
                ))}
            </TableRow>
          ))}
        </TableBody>
      </RowTable>
      <Typography variant="text" color="text.secondary" sx={{ mt: 1 }}>
        {say`One bar per run, oldest first: the taller, the more often that skill went wrong. A line on the ground: none.`}
      </Typography>
    </Box>
  )
}

const Bars = ({ label, runs, all }: { label: string; runs: { run: number; missed: Share }[]; all: Share }) => {
  const words = say`${label}: missed ${shareInWords(all)} times through; by run ${runs.map((r) => say`${r.missed.hits} of ${r.missed.of}`).join(', ')}`
  if (all.hits === 0)
    return (
      <Box
        role="img"
        aria-label={words}
        sx={{ height: BAR.height, borderBottom: 'hair', borderColor: 'divider', width: runs.length * (BAR.width + 2) }}
      />
    )
  return (
    <Box
      component="svg"
      role="img"
      aria-label={words}
      width={runs.length * (BAR.width + 2)}
      height={BAR.height + 1}
      sx={{ display: 'block', color: 'text.primary' }}
    >
      <title>{words}</title>
      {runs.map(({ run, missed }, i) => {
        const height = BAR.height * (missed.share ?? 0)
        return <rect key={run} x={i * (BAR.width + 2)} y={BAR.height - height} width={BAR.width} height={height + 1} fill="currentColor" />
      })}
    </Box>
  )
}

/** Success of each wording of a correction. */
const Corrections = ({ rates }: { rates: LogbookPage['book']['rates'] }) => (
  <Box component="section" aria-label={say`Corrections that stuck`}>
    <Typography variant="head" component="h3" gutterBottom>
      {say`Corrections that stuck`}
      <WordHelp word="stuck" />
    </Typography>
    {rates.length === 0 && <Typography>{say`None was said so far.`}</Typography>}
    {rates.length > 0 && (
      <RowTable aria-label={say`Corrections`}>
        <TableHead>
          <TableRow>
            <TableCell>{say`Said`}</TableCell>
            <TableCell>{say`For`}</TableCell>
            <TableCell align="right">
              {say`Stuck`}
              <WordHelp word="range" />
            </TableCell>
          </TableRow>
        </TableHead>
        <TableBody>
          {rates.slice(0, 10).map((r) => (
            <TableRow key={`${r.code}${r.words}`}>
              <TableCell>{`“${r.words}”`}</TableCell>
              <TableCell>{inside(mistakeName(r.code))}</TableCell>
              <TableCell align="right" className="figures" sx={{ whiteSpace: 'nowrap' }}>
                {`${shareInWords(r.rate)}${r.open > 0 ? say` · ${r.open} open` : ''}`}
              </TableCell>
            </TableRow>
          ))}
        </TableBody>
      </RowTable>
    )}
    <Typography variant="text" color="text.secondary" sx={{ mt: 1 }}>
      {say`Stuck: the next two times through that corner were free of it. Open: they have not been driven yet.`}
    </Typography>
  </Box>
)

const percent = (s: Share): string => (s.share === null ? '–' : `${Math.round(100 * s.share)}%`)
const points = (share: number): string => `${share < -0.005 ? '−' : share > 0.005 ? '+' : ''}${Math.abs(Math.round(100 * share))}`
const change = ({ forgot }: DayGap): string =>
  forgot === null ? '–' : say`${points(forgot.by)} (${points(forgot.low)} to ${points(forgot.high)}) points`

/** Skills forgotten from one day to the next. */
const BetweenDays = ({ gaps }: { gaps: readonly DayGap[] }) => (
  <Box component="section" aria-label={say`Between days`}>
    <Typography variant="head" component="h3" gutterBottom>
      {say`Between days`}
    </Typography>
    {gaps.length === 0 && <Typography>{say`It takes two days with two laps of log each to tell what is forgotten.`}</Typography>}
    {gaps.length > 0 && (
      <>
        <RowTable aria-label={say`Between days`}>
          <TableHead>
            <TableRow>
              <TableCell>{say`Days off`}</TableCell>
              <TableCell align="right">{say`Last two laps`}</TableCell>
              <TableCell align="right">{say`First two laps`}</TableCell>
              <TableCell align="right">{say`Difference`}</TableCell>
              <TableCell align="right">{say`Recovered after`}</TableCell>
            </TableRow>
          </TableHead>
          <TableBody>
            {gaps.map((g) => (
              <TableRow key={g.to}>
                <TableCell>{say`${g.days}, to ${g.to.slice(8)}.${g.to.slice(5, 7)}.${g.faster ? say`, at a higher pace` : ''}`}</TableCell>
                <TableCell align="right" className="figures">
                  {percent(g.last)}
                </TableCell>
                <TableCell align="right" className="figures">
                  {percent(g.first)}
                </TableCell>
                <TableCell align="right" className="figures">
                  {change(g)}
                </TableCell>
                <TableCell align="right" className="figures">
                  {g.backAfter === null
                    ? say`not that day`
                    : g.backAfter === 0
                      ? say`at once`
                      : `${g.backAfter} ${g.backAfter === 1 ? say`lap` : say`laps`}`}
                </TableCell>
              </TableRow>
            ))}
          </TableBody>
        </RowTable>
        <Typography variant="text" color="text.secondary" sx={{ mt: 1 }}>
          {say`Share of corners with a mistake. The difference is real if its range excludes zero.`}
        </Typography>
      </>
    )}
  </Box>
)
