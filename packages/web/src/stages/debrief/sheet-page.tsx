import { Box, Stack, Typography } from '@mui/material'
import type { CornerDrawing, Sheet, SheetItem } from '@ochote/contract'
import { formatDate, formatLapTime, type Language } from '@ochote/core'
import type { StudentWords } from '../../shared/language/student-words.ts'
import { wordsIn } from '../../shared/language/words.ts'
import { OwnCautions } from '../../shared/own-cautions.tsx'

/** A student's sheet in the student's language: praise, up to three findings, what next, and the trend; one A4 page or a phone's. */
export const SheetPage = ({ sheet, children }: { sheet: Sheet; children?: React.ReactNode }) => {
  const { sheet: words, drills } = wordsIn(sheet.language)
  return (
    <Stack
      lang={sheet.language}
      component="main"
      spacing={4}
      sx={{ width: 'min(182mm, calc(100vw - 32px))', mx: 'auto', my: 4, '@media print': { my: 0, width: '182mm' } }}
    >
      {children}
      <Box>
        <Typography variant="title">{sheet.studentName}</Typography>
        {sheet.trend.length > 1 && <Trend trend={sheet.trend} words={words} language={sheet.language} />}
        <Typography>{`${formatDate(sheet.date, sheet.language)}, ${sheet.circuitName}, ${sheet.vehicleName}. ${sheet.best_s === null ? words.noLog : words.summary(sheet.laps, formatLapTime(sheet.best_s))}${sheet.simulated ? ` (${words.simulated})` : ''}`}</Typography>
      </Box>
      <Box>
        <Typography variant="head">{words.held}</Typography>
        {sheet.held.length === 0 && <Typography>{words.nothingHeld}</Typography>}
        {sheet.held.map((h) => (
          <Typography key={h.cornerName}>
            <Box component="span" sx={{ fontWeight: 640, mr: 2 }}>
              {h.cornerName}
            </Box>
            {h.say}
          </Typography>
        ))}
      </Box>
      <Typography variant="head">{sheet.items.length === 0 ? words.nothing : words.toWorkOn}</Typography>
      {sheet.items.map((item, i) => (
        <Item key={item.cornerId} item={item} number={i + 1} words={words} />
      ))}
      {sheet.items.some((item) => item.drawing) && (
        <Typography variant="text" color="text.secondary">
          {words.drawings}
        </Typography>
      )}
      {sheet.pictures.length > 0 && (
        <Box
          className="keep-together"
          sx={{ display: 'grid', gap: 4, gridTemplateColumns: { xs: '1fr', sm: 'repeat(2, minmax(0, 1fr))' } }}
        >
          {sheet.pictures.map(({ text, jpeg }) => (
            <Box key={text} component="figure" sx={{ m: 0 }}>
              <Box
                component="img"
                src={`data:image/jpeg;base64,${jpeg}`}
                alt={text}
                sx={{ display: 'block', maxWidth: '100%', maxHeight: '44mm' }}
              />
              <Typography component="figcaption" variant="text">
                {text}
              </Typography>
            </Box>
          ))}
        </Box>
      )}
      {sheet.pad.length > 0 && (
        <Box className="keep-together">
          <Typography variant="head">{words.onPad}</Typography>
          {sheet.pad.map((one) => (
            <Typography key={one.drill}>{words.padLine(drills[one.drill], one.onTarget, one.attempts, one.said)}</Typography>
          ))}
        </Box>
      )}
      {sheet.next && (
        <Box className="keep-together" sx={{ borderLeft: 'note', borderColor: 'text.primary', pl: 4 }}>
          <Typography variant="head">{words.nextRun}</Typography>
          <Typography>{words.only(sheet.next.cornerName, sheet.next.say)}</Typography>
        </Box>
      )}
      <Typography variant="text" color="text.secondary">
        {words.caution}
      </Typography>
      <OwnCautions cautions={sheet.cautions} variant="text" />
    </Stack>
  )
}

type Words = StudentWords['sheet']

const Item = ({ item, number, words }: { item: SheetItem; number: number; words: Words }) => (
  <Box
    className="keep-together"
    component="article"
    aria-label={item.cornerName}
    sx={{
      display: 'grid',
      gridTemplateColumns: { xs: '1fr', sm: '1fr 44mm' },
      gap: 4,
      borderTop: 'strong',
      borderColor: 'text.primary',
      pt: 2,
    }}
  >
    <Box>
      <Typography sx={{ fontWeight: 680 }}>{`${number}. ${item.cornerName}: ${item.name}`}</Typography>
      <Typography sx={{ fontSize: 'size.head', fontWeight: 620, my: 1 }}>{item.say}</Typography>
      {item.cue !== '' && <Typography>{words.whenRight(item.cue)}</Typography>}
      <Typography variant="text" color="text.secondary" sx={{ mt: 1 }}>
        {item.shows === '' ? words.fromSeat : words.shows(item.laps, item.of, item.lap, item.shows)}
      </Typography>
    </Box>
    {item.drawing && <Drawing drawing={item.drawing} label={words.drawing(item.cornerName)} />}
  </Box>
)

const pairs = (flat: readonly number[]): string =>
  Array.from({ length: flat.length / 2 }, (_, i) => `${flat[2 * i]},${-flat[2 * i + 1]}`).join(' ')
const turned = (flat: readonly number[]): number[] =>
  Array.from({ length: flat.length / 2 }, (_, i) => flat.slice(flat.length - 2 * i - 2, flat.length - 2 * i)).flat()

/** A corner from above: the road, the plan dashed, the own lap in full, and a ring where it shows. */
const Drawing = ({ drawing, label }: { drawing: CornerDrawing; label: string }) => {
  const all = [...drawing.left, ...drawing.right]
  const xs = all.filter((_, i) => i % 2 === 0)
  const ys = all.filter((_, i) => i % 2 === 1).map((y) => -y)
  const [x0, y0] = [Math.min(...xs) - 8, Math.min(...ys) - 8]
  const [width, height] = [Math.max(...xs) + 8 - x0, Math.max(...ys) + 8 - y0]
  const unit = Math.max(width, height) / 100
  return (
    <Box component="svg" viewBox={`${x0} ${y0} ${width} ${height}`} role="img" aria-label={label} sx={{ width: '100%', maxHeight: '32mm' }}>
      <polygon points={`${pairs(drawing.left)} ${pairs(turned(drawing.right))}`} fill="var(--road)" />
      <polyline
        points={pairs(drawing.planned)}
        fill="none"
        stroke="var(--plannedOnRoad)"
        strokeWidth={1.3 * unit}
        strokeDasharray={`${4 * unit} ${3 * unit}`}
      />
      <Box
        component="polyline"
        points={pairs(drawing.driven)}
        sx={{ fill: 'none', stroke: 'var(--drivenOnRoad)' }}
        strokeWidth={2.2 * unit}
      />
      <circle cx={drawing.shown[0]} cy={-drawing.shown[1]} r={4.2 * unit} fill="none" stroke="var(--ground)" strokeWidth={1.8 * unit} />
    </Box>
  )
}

/** Runs of the trend that fit in a line. */
const TREND_RUNS = 10

/** Trend of the last runs here in one line: quickest lap, and findings per lap. */
const Trend = ({ trend, words, language }: { trend: Sheet['trend']; words: Words; language: Language }) => (
  <Box component="section" aria-label={words.trend} sx={{ my: 2 }}>
    <Typography variant="note">{`${words.trend}: ${words.quickest}, ${words.findings}`}</Typography>
    <Stack direction="row" useFlexGap spacing={4} className="figures" sx={{ flexWrap: 'wrap' }}>
      {trend.slice(-TREND_RUNS).map((t, i) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: runs of one day share their date
        <Box key={i} sx={{ fontSize: 'size.note' }}>
          <Box>{formatDate(t.date, language)}</Box>
          <Box sx={{ fontWeight: 650 }}>{t.best_s === null ? '–' : formatLapTime(t.best_s)}</Box>
          <Box>{t.perLap === null ? '–' : t.perLap.toLocaleString(language, { minimumFractionDigits: 1, maximumFractionDigits: 1 })}</Box>
        </Box>
      ))}
    </Stack>
  </Box>
)
