import { Box, Button, Stack, Typography } from '@mui/material'
import { api, type CornerDrawing, type Sheet, type SheetItem } from '@ochote/contract'
import { evidenceInWords, formatLapTime, type LogCode, logCodes, mistakes } from '@ochote/core'
import { useMutation, useQuery } from '@tanstack/react-query'
import { useNavigate, useParams } from 'react-router'
import { call } from '../../app/api-client.ts'
import { queryClient, runSheetQuery, sheetLinkQuery, sheetQuery } from '../../app/queries.ts'
import { ProblemNote } from '../../shared/problem-note.tsx'

/** A student's sheet as the instructor sees it, with its link. */
export const StudentSheet = () => {
  const { runId = '' } = useParams()
  const sheet = useQuery({ ...runSheetQuery(runId), staleTime: 0 })
  const navigate = useNavigate()
  if (!sheet.data) return <ProblemNote error={sheet.error} />
  return (
    <SheetPage sheet={sheet.data}>
      <Stack direction="row" spacing={1} useFlexGap className="no-print" sx={{ flexWrap: 'wrap', alignItems: 'center' }}>
        <Button variant="contained" onClick={() => window.print()}>
          Print
        </Button>
        <Button variant="outlined" onClick={() => navigate(`/debrief/${runId}`)}>
          Back to the debrief
        </Button>
        <SheetLink runId={runId} />
      </Stack>
    </SheetPage>
  )
}

/** A student's sheet by its link, without signing in. */
export const HandedSheet = () => {
  const { token = '' } = useParams()
  const sheet = useQuery(sheetQuery(token))
  if (sheet.isPending) return <Typography role="status">…</Typography>
  if (!sheet.data)
    return (
      <Box component="main" sx={{ maxWidth: 520, mx: 'auto', p: 2 }}>
        <ProblemNote error={sheet.error} />
      </Box>
    )
  return <SheetPage sheet={sheet.data} />
}

/** Gives out a link to the sheet, shows it, and withdraws it. */
const SheetLink = ({ runId }: { runId: string }) => {
  const link = useQuery(sheetLinkQuery(runId))
  const set = (answer: { token: string | null }): void => {
    queryClient.setQueryData(sheetLinkQuery(runId).queryKey, answer)
  }
  const give = useMutation({ mutationFn: () => call(api.giveSheet, { params: { runId } }), onSuccess: set })
  const withdraw = useMutation({ mutationFn: () => call(api.withdrawSheet, { params: { runId } }), onSuccess: set })
  const address = link.data?.token ? `${window.location.origin}/sheet/${link.data.token}` : null
  return (
    <>
      <ProblemNote error={link.error ?? give.error ?? withdraw.error} />
      {address ? (
        <>
          <Typography component="a" href={address} className="figures" sx={{ overflowWrap: 'anywhere' }} aria-label="Link of the sheet">
            {address}
          </Typography>
          <Button variant="outlined" onClick={() => withdraw.mutate()}>
            Withdraw the link
          </Button>
        </>
      ) : (
        <Button variant="outlined" disabled={link.isPending} onClick={() => give.mutate()}>
          Give out a link
        </Button>
      )}
    </>
  )
}

const isLogCode = (code: string): code is LogCode => (logCodes as readonly string[]).includes(code)

const SheetPage = ({ sheet, children }: { sheet: Sheet; children?: React.ReactNode }) => (
  <Stack
    component="main"
    spacing={2}
    sx={{ width: 'min(182mm, calc(100vw - 32px))', mx: 'auto', my: 2, '@media print': { my: 0, width: '182mm' } }}
  >
    {children}
    <Box>
      <Typography variant="h1">{sheet.studentName}</Typography>
      <Typography>{`${sheet.date}, ${sheet.circuitName}, ${sheet.vehicleName}. ${sheet.best_s === null ? 'No log.' : `${sheet.laps} laps, the quickest ${formatLapTime(sheet.best_s)}`}${sheet.simulated ? ' (simulated)' : ''}`}</Typography>
    </Box>
    <Box>
      <Typography variant="h2">What held</Typography>
      {sheet.held.length === 0 && <Typography>Every corner had something; that is what a first run is for.</Typography>}
      {sheet.held.map((h) => (
        <Typography key={h.cornerName}>
          <Box component="span" sx={{ fontWeight: 640, mr: 0.75 }}>
            {h.cornerName}
          </Box>
          {h.say}
        </Typography>
      ))}
    </Box>
    <Typography variant="h2">{sheet.items.length === 0 ? 'Nothing stood out. Keep it like this.' : 'To work on'}</Typography>
    {sheet.items.map((item, i) => (
      <Item key={item.cornerId} item={item} number={i + 1} />
    ))}
    {sheet.items.some((item) => item.drawing) && (
      <Typography variant="body2" color="text.secondary">
        In the drawings: dashed is the plan, the full line is your own lap, the ring is the place.
      </Typography>
    )}
    {sheet.items[0] && (
      <Box className="keep-together" sx={{ borderLeft: '6px solid', borderColor: 'primary.main', pl: 2 }}>
        <Typography variant="h2">Next run</Typography>
        <Typography>{`Only this: ${sheet.items[0].cornerName}. ${sheet.items[0].next || sheet.items[0].say}`}</Typography>
      </Box>
    )}
    {sheet.trend.length > 1 && <Trend trend={sheet.trend} />}
    <Typography variant="body2" color="text.secondary">
      Change at most one car length a lap, with an instructor, at a circuit. Never on a public road. The instructor decides; the venue’s
      rules come first.
    </Typography>
  </Stack>
)

const Item = ({ item, number }: { item: SheetItem; number: number }) => (
  <Box
    className="keep-together"
    component="article"
    aria-label={item.cornerName}
    sx={{
      display: 'grid',
      gridTemplateColumns: { xs: '1fr', sm: '1fr 44mm' },
      gap: 2,
      borderTop: '2px solid',
      borderColor: 'text.primary',
      pt: 1,
    }}
  >
    <Box>
      <Typography sx={{ fontWeight: 680 }}>{`${number}. ${item.cornerName}: ${mistakes[item.code].name.toLowerCase()}`}</Typography>
      <Typography sx={{ fontSize: '1.1rem', fontWeight: 620, my: 0.25 }}>{item.say}</Typography>
      {item.cue !== '' && <Typography>{`When it is right: ${item.cue.charAt(0).toLowerCase()}${item.cue.slice(1)}`}</Typography>}
      <Typography variant="body2" color="text.secondary" sx={{ mt: 0.25 }}>
        {item.drawing && isLogCode(item.code)
          ? `On ${item.laps} of ${item.of} laps; in lap ${item.lap} you ${evidenceInWords(item.code, item.evidence).replace(/ \(.*\)/, '')}.`
          : 'Your instructor saw it from the seat beside you.'}
      </Typography>
    </Box>
    {item.drawing && <Drawing drawing={item.drawing} label={`${item.cornerName} from above, your lap over the plan`} />}
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
    <Box component="svg" viewBox={`${x0} ${y0} ${width} ${height}`} role="img" aria-label={label} sx={{ width: '100%', maxHeight: '42mm' }}>
      <polygon points={`${pairs(drawing.left)} ${pairs(turned(drawing.right))}`} fill="var(--road)" />
      <polyline
        points={pairs(drawing.planned)}
        fill="none"
        stroke="var(--ground)"
        strokeWidth={1.3 * unit}
        strokeDasharray={`${4 * unit} ${3 * unit}`}
      />
      <Box
        component="polyline"
        points={pairs(drawing.driven)}
        sx={{ fill: 'none', stroke: (t) => t.palette.warning.light }}
        strokeWidth={2.2 * unit}
      />
      <circle cx={drawing.shown[0]} cy={-drawing.shown[1]} r={4.2 * unit} fill="none" stroke="var(--ground)" strokeWidth={1.8 * unit} />
    </Box>
  )
}

/** How it goes over the last runs here: quickest lap, and findings a lap. */
const Trend = ({ trend }: { trend: Sheet['trend'] }) => (
  <Box className="keep-together" component="section" aria-label="Trend">
    <Typography variant="h2">Over your runs here</Typography>
    <Box component="table" className="figures" sx={{ '& td, & th': { pr: 3, textAlign: 'left' } }}>
      <thead>
        <tr>
          <th>Day</th>
          <th>Quickest lap</th>
          <th>Findings a lap</th>
        </tr>
      </thead>
      <tbody>
        {trend.map((t, i) => (
          // biome-ignore lint/suspicious/noArrayIndexKey: runs of one day share their date
          <tr key={i}>
            <td>{t.date}</td>
            <td>{t.best_s === null ? '–' : formatLapTime(t.best_s)}</td>
            <td>{t.perLap === null ? '–' : t.perLap.toFixed(1)}</td>
          </tr>
        ))}
      </tbody>
    </Box>
  </Box>
)
