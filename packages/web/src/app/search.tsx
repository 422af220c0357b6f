import { Autocomplete, Box, Dialog, TextField } from '@mui/material'
import { nameKey } from '@ochote/core'
import { useQuery } from '@tanstack/react-query'
import dayjs from 'dayjs'
import { useEffect, useMemo, useState } from 'react'
import { useNavigate } from 'react-router'
import { circuitQuery, circuitsQuery, daysQuery, runsQuery, studentsQuery } from '../data/api/queries.ts'
import { useDay } from '../data/day/day-context.tsx'
import { usePlan } from '../data/plan/use-plan.ts'
import { useLapSelection } from '../shared/selection/lap-selection.tsx'
import { metres } from '../shared/staff-units.ts'
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
  ['School settings', '/school/settings', 'name logo units language defaults cautions practice archive export'],
  ['Network and tablets', '/school/network', 'https certificate qr phone address'],
  ['Instructors', '/school/instructors', 'accounts passwords'],
  ['Cars', '/school/cars', 'numbers aids condition'],
  ['Vehicles', '/circuit/vehicles', 'grip mass power template'],
  ['All circuits and venues', '/circuit/all', 'layouts rules flags emergency telephone'],
  ['New circuit', '/circuit/new', 'import gpx kml geojson csv draw'],
  ['All days', '/day/all', 'calendar copy template'],
  ['Cone schemes and stock', '/cones/schemes', 'colours'],
  ['Lay cones', '/cones/lay', ''],
  ['Phrase books and calls', '/brief/calls', 'words'],
  ['Rehearse', '/brief/rehearse', ''],
  ['Students of the day and their links', '/brief/students', 'qr quiz radio'],
  ['Slips to print', '/brief/slips', 'paper qr'],
  ['Pit wall', '/run/pit-wall', 'flags stops release'],
  ['Lead-follow', '/run/lead-follow', 'train'],
  ['Corner post', '/run/corner-post', ''],
  ['Pad', '/run/pad', 'exercise drill'],
  ['Devices', '/run/devices', 'receivers ports simulated'],
  ['History of the day', '/run/history', ''],
  ['What counts as a mistake', '/debrief/thresholds', 'thresholds'],
  ['Guide', '/guide', 'help manual'],
]

/** Everything that can be found now. Built only while the search is open. */
const useFindable = (): readonly Found[] => {
  const { settings } = useDay()
  const students = useQuery(studentsQuery)
  const days = useQuery(daysQuery)
  const runs = useQuery(runsQuery({}))
  const circuits = useQuery(circuitsQuery)
  const circuit = useQuery({ ...circuitQuery(settings?.circuitId ?? ''), enabled: settings !== undefined })
  const { plan } = usePlan(settings)
  return useMemo(
    () => [
      ...(students.data ?? []).map((s) => ({
        id: `s ${s.id}`,
        group: 'People',
        name: s.name,
        also: s.archivedAt ? 'put away' : '',
        to: `/record/${s.id}`,
      })),
      ...(days.data ?? [])
        .filter((d) => !d.template)
        .map((d) => ({
          id: `d ${d.id}`,
          group: 'Days',
          name: `${dayjs(d.date).format('D MMM YYYY')}, ${d.title}`,
          also: d.venue,
          to: '/day',
          dayId: d.id,
        })),
      ...(runs.data ?? []).map((r) => ({
        id: `r ${r.id}`,
        group: 'Runs',
        name: `${r.studentName}, ${dayjs(r.date).format('D MMM YYYY')}`,
        also: dayjs(r.startedAt).format('HH:mm'),
        to: r.endedAt ? `/debrief/${r.id}` : `/run/${r.id}`,
      })),
      ...(plan?.corners ?? []).map((c) => ({
        id: `c ${c.id}`,
        group: 'Corners',
        name: c.name,
        also: c.id,
        to: '/circuit',
        cornerId: c.id,
      })),
      ...(circuit.data?.notes.ground ?? []).map((g) => ({
        id: `g ${g.id}`,
        group: 'On the ground',
        name: g.name || g.kind,
        also: `${g.kind}, at ${metres(g.from_m)}`,
        to: '/circuit',
        station_m: g.from_m,
      })),
      ...(circuits.data ?? []).map((c) => ({
        id: `l ${c.id}`,
        group: 'Circuits',
        name: c.name,
        also: c.archivedAt ? 'put away' : '',
        to: '/circuit/all',
      })),
      ...pages.map(([name, to, also]) => ({ id: `p ${to}`, group: 'Pages and settings', name, also, to })),
    ],
    [students.data, days.data, runs.data, circuits.data, circuit.data, plan],
  )
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
  const all = useFindable()
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
      noOptionsText="Nothing of that name. Search people, days, runs, corners, ground items, settings."
      renderOption={({ key, ...props }, found) => (
        <Box component="li" key={key} {...props}>
          <Box component="span" sx={{ fontWeight: 620 }}>
            {found.name}
          </Box>
          {found.group !== 'Pages and settings' && found.also && (
            <Box component="span" sx={{ ml: 2, color: 'text.secondary' }}>
              {found.also}
            </Box>
          )}
        </Box>
      )}
      renderInput={(params) => <TextField {...params} label="Search people, days, runs, corners, ground, settings" autoFocus />}
    />
  )
}

const keys: readonly (readonly [string, string])[] = [
  ['/', 'Search'],
  ['?', 'These keys'],
  ['← →', 'Mark by mark along the lap'],
  ['⇧ ← →', 'Corner by corner'],
  ['Home', 'The start line'],
  ['Escape', 'Let go of the corner; close'],
  ['Ctrl Z, Ctrl ⇧ Z', 'Undo, redo'],
  ['In the car: 1 to 6', 'Log that mistake at the corner just driven'],
  ['In the car: H, U, L, E', 'Held well, undo, at the line, end'],
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
        Search /
      </Box>
      <Box component="button" type="button" sx={{ ...act, display: { xs: 'none', sm: 'block' } }} onClick={() => setOpen('keys')}>
        Keys ?
      </Box>
      <Dialog
        open={open === 'search'}
        onClose={close}
        fullWidth
        maxWidth="sm"
        slotProps={{ paper: { 'aria-label': 'Search' } }}
        sx={{ '& .MuiDialog-container': { alignItems: 'flex-start' } }}
      >
        <Box sx={{ p: 4, minHeight: 120 }}>{open === 'search' && <SearchBox onClose={close} />}</Box>
      </Dialog>
      <Dialog open={open === 'keys'} onClose={close} slotProps={{ paper: { 'aria-label': 'Keys' } }}>
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
