import { Autocomplete, Box, Dialog, TextField } from '@mui/material'
import { nameKey } from '@ochote/core'
import { useQuery } from '@tanstack/react-query'
import dayjs from 'dayjs'
import { useEffect, useMemo, useState } from 'react'
import { useNavigate } from 'react-router'
import { circuitQuery, circuitsQuery, daysQuery, runsQuery, studentsQuery } from '../data/api/queries.ts'
import { useDay } from '../data/day/day-context.tsx'
import { usePlan } from '../data/plan/use-plan.ts'
import { say } from '../language/say.ts'
import { metres } from '../language/staff-units.ts'
import { useLapSelection } from '../shared/selection/lap-selection.tsx'
import { isTyping } from '../shared/typing.ts'

/** Something that can be found, and the way to it. */
export type Found = {
  id: string
  group: string
  name: string
  also: string
  to: string
  cornerId?: string
  dayId?: string
  station_m?: number
}

/** Pages by what one would call them. */
const pages: readonly (readonly [string, string, string])[] = [
  [say`School settings`, '/school/settings', say`name logo units language defaults cautions practice archive export`],
  [say`Network and tablets`, '/school/network', say`https certificate qr phone address`],
  [say`Instructors`, '/school/instructors', say`accounts passwords`],
  [say`Cars`, '/school/cars', say`numbers aids condition`],
  [say`From the seat`, '/circuit/seat', say`driver’s eye view visor crest hidden walk`],
  [say`Vehicles`, '/circuit/vehicles', say`grip mass power template`],
  [say`All circuits and venues`, '/circuit/all', say`layouts rules flags emergency telephone`],
  [say`New circuit`, '/circuit/new', say`import gpx kml geojson csv draw`],
  [say`All days`, '/day/all', say`calendar copy template`],
  [say`Cone schemes and stock`, '/cones/schemes', 'colours'],
  [say`Lay cones`, '/cones/lay', ''],
  [say`Phrase books and calls`, '/brief/calls', 'words'],
  [say`Rehearse`, '/brief/rehearse', ''],
  [say`Students of the day and their links`, '/brief/students', say`qr quiz radio`],
  [say`Slips to print`, '/brief/slips', say`paper qr`],
  [say`Pit wall`, '/run/pit-wall', say`flags stops release`],
  [say`Lead-follow`, '/run/lead-follow', 'train'],
  [say`Corner post`, '/run/corner-post', ''],
  [say`Pad`, '/run/pad', say`exercise drill`],
  [say`Devices`, '/run/devices', say`receivers ports simulated`],
  [say`History of the day`, '/run/history', ''],
  [say`What counts as a mistake`, '/debrief/thresholds', 'thresholds'],
  [say`Guide`, '/guide', say`help manual`],
]

/** Everything that can be found now. Built only while the search is open. */
const useFindable = (): { all: readonly Found[]; computing: boolean } => {
  const { settings } = useDay()
  const students = useQuery(studentsQuery)
  const days = useQuery(daysQuery)
  const runs = useQuery(runsQuery({}))
  const circuits = useQuery(circuitsQuery)
  const circuit = useQuery({ ...circuitQuery(settings?.circuitId ?? ''), enabled: settings !== undefined })
  const { plan, error } = usePlan(settings)
  const all = useMemo(
    () => [
      ...(students.data ?? []).map((s) => ({
        id: `s ${s.id}`,
        group: say`People`,
        name: s.name,
        also: s.archivedAt ? say`put away` : '',
        to: `/record/${s.id}`,
      })),
      ...(days.data ?? [])
        .filter((d) => !d.template)
        .map((d) => ({
          id: `d ${d.id}`,
          group: say`Days`,
          name: `${dayjs(d.date).format(say`D MMM YYYY`)}, ${d.title}`,
          also: d.venue,
          to: '/day',
          dayId: d.id,
        })),
      ...(runs.data ?? []).map((r) => ({
        id: `r ${r.id}`,
        group: say`Runs`,
        name: `${r.studentName}, ${dayjs(r.date).format(say`D MMM YYYY`)}`,
        also: dayjs(r.startedAt).format('HH:mm'),
        to: r.endedAt ? `/debrief/${r.id}` : `/run/${r.id}`,
      })),
      ...(plan?.corners ?? []).map((c) => ({
        id: `c ${c.id}`,
        group: say`Corners`,
        name: c.name,
        also: c.id,
        to: '/circuit',
        cornerId: c.id,
      })),
      ...(circuit.data?.notes.ground ?? []).map((g) => ({
        id: `g ${g.id}`,
        group: say`On the ground`,
        name: g.name || g.kind,
        also: say`${g.kind}, at ${metres(g.from_m)}`,
        to: '/circuit',
        station_m: g.from_m,
      })),
      ...(circuits.data ?? []).map((c) => ({
        id: `l ${c.id}`,
        group: say`Circuits`,
        name: c.name,
        also: c.archivedAt ? say`put away` : '',
        to: '/circuit/all',
      })),
      ...pages.map(([name, to, also]) => ({ id: `p ${to}`, group: say`Pages and settings`, name, also, to })),
    ],
    [students.data, days.data, runs.data, circuits.data, circuit.data, plan],
  )
  return { all, computing: settings !== undefined && !plan && !error }
}

/** No more of one kind are shown. */
const MOST = 8

/** What a text finds: every word of it in a name or beside it, however it is written. */
export const matching = (all: readonly Found[], text: string): Found[] => {
  const words = nameKey(text).split(' ').filter(Boolean)
  const counts = new Map<string, number>()
  return all.filter((found) => {
    const key = nameKey(`${found.name} ${found.also}`)
    if (!words.every((word) => key.includes(word))) return false
    const n = (counts.get(found.group) ?? 0) + 1
    counts.set(found.group, n)
    return n <= MOST
  })
}

const SearchBox = ({ onClose }: { onClose: () => void }) => {
  const { all, computing } = useFindable()
  const navigate = useNavigate()
  const { chooseDay } = useDay()
  const { selectCorner, moveTo } = useLapSelection()
  const go = (found: Found | null): void => {
    if (!found) return
    if (found.dayId) chooseDay(found.dayId)
    if (found.cornerId) selectCorner(found.cornerId)
    if (found.station_m !== undefined) moveTo(found.station_m)
    navigate(found.to)
    onClose()
  }
  return (
    <Autocomplete
      open
      autoHighlight
      options={all}
      groupBy={(found) => found.group}
      getOptionLabel={(found) => found.name}
      getOptionKey={(found) => found.id}
      filterOptions={(options, { inputValue }) => matching(options, inputValue)}
      onChange={(_, found) => go(found)}
      noOptionsText={say`Nothing of that name. Search people, days, runs, corners, ground items, settings.`}
      renderOption={({ key, ...props }, found) => (
        <Box component="li" key={key} {...props}>
          <Box component="span" sx={{ fontWeight: 620 }}>
            {found.name}
          </Box>
          {found.group !== say`Pages and settings` && found.also && (
            <Box component="span" sx={{ ml: 2, color: 'text.secondary' }}>
              {found.also}
            </Box>
          )}
        </Box>
      )}
      renderInput={(params) => (
        <TextField
          {...params}
          label={say`Search people, days, runs, corners, ground, settings`}
          helperText={computing ? say`Corners follow: the lap is still being computed.` : ' '}
          autoFocus
        />
      )}
    />
  )
}

const keys: readonly (readonly [string, string])[] = [
  ['/', say`Search`],
  ['?', say`These keys`],
  ['← →', say`Mark by mark along the lap`],
  ['⇧ ← →', say`Corner by corner`],
  [say`Home`, say`The start line`],
  ['Escape', say`Let go of the corner; close`],
  [say`Ctrl Z, Ctrl ⇧ Z`, say`Undo, redo`],
  [say`In the car: 1 to 6`, say`Log that mistake at the corner just driven`],
  [say`In the car: H, U, L, E`, say`Held well, undo, at the line, end`],
]

/** Search on “/”, keys on “?”, from every page of the shell; and a button for both. */
export const SearchAndKeys = () => {
  const [open, setOpen] = useState<'search' | 'keys' | null>(null)
  useEffect(() => {
    const onKey = (event: KeyboardEvent): void => {
      if (isTyping(event.target) || event.ctrlKey || event.metaKey || event.altKey) return
      if (event.key !== '/' && event.key !== '?') return
      event.preventDefault()
      setOpen(event.key === '/' ? 'search' : 'keys')
    }
    window.addEventListener('keydown', onKey)
    return () => window.removeEventListener('keydown', onKey)
  }, [])
  const close = (): void => setOpen(null)
  const act = {
    px: 3,
    py: 1,
    border: 0,
    background: 'none',
    font: 'inherit',
    fontSize: 'size.note',
    color: 'text.secondary',
    textAlign: 'left',
    cursor: 'pointer',
  } as const
  return (
    <>
      <Box component="button" type="button" sx={act} onClick={() => setOpen('search')}>
        {say`Search /`}
      </Box>
      <Box component="button" type="button" sx={{ ...act, display: { xs: 'none', sm: 'block' } }} onClick={() => setOpen('keys')}>
        {say`Keys ?`}
      </Box>
      <Dialog
        open={open === 'search'}
        onClose={close}
        fullWidth
        maxWidth="sm"
        slotProps={{ paper: { 'aria-label': say`Search` } }}
        sx={{ '& .MuiDialog-container': { alignItems: 'flex-start' } }}
      >
        <Box sx={{ p: 4, minHeight: 120 }}>{open === 'search' && <SearchBox onClose={close} />}</Box>
      </Dialog>
      <Dialog open={open === 'keys'} onClose={close} slotProps={{ paper: { 'aria-label': say`Keys` } }}>
        <Box component="dl" sx={{ m: 0, p: 5, display: 'grid', gridTemplateColumns: 'max-content auto', columnGap: 5, rowGap: 2 }}>
          {keys.map(([key, what]) => (
            <Box key={key} sx={{ display: 'contents' }}>
              <Box component="dt" sx={{ fontWeight: 680 }}>
                {key}
              </Box>
              <Box component="dd" sx={{ m: 0 }}>
                {what}
              </Box>
            </Box>
          ))}
        </Box>
      </Dialog>
    </>
  )
}
