import { Box, Button, Checkbox, FormControlLabel, Stack, TextField, Typography } from '@mui/material'
import { api, type SchoolSettings } from '@ochote/contract'
import { brakingSchools, coneSchemes, languages, levels } from '@ochote/core'
import { useMutation, useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { Link } from 'react-router'
import { addressOf, call } from '../../data/api/api-client.ts'
import { circuitsQuery, sessionQuery, studentsQuery } from '../../data/api/queries.ts'
import { useSchoolSettings } from '../../data/school/use-school-settings.ts'
import { say, sayWhole } from '../../language/say.ts'
import { columns } from '../../look/columns.ts'
import { FileChoice } from '../../shared/file-choice.tsx'
import { levelName } from '../../shared/language/staff-words.ts'
import { wordsIn } from '../../shared/language/words.ts'
import { LinesField } from '../../shared/lines-field.tsx'
import { LostFields } from '../../shared/lost-fields.tsx'
import { PickField } from '../../shared/pick-field.tsx'
import { brakingWords } from '../../shared/plan/line-words.ts'
import { paceOptions } from '../../shared/plan/setting-words.ts'
import { ProblemNote } from '../../shared/problem-note.tsx'
import { StageHead } from '../../shared/stage-head.tsx'

type Save = (change: Partial<SchoolSettings>) => void
type PartProps = { settings: SchoolSettings; save: Save }

/** Everything that a school decides once: its name, its language, what days begin with, checks, cautions, how long records stay. */
export const SettingsPage = () => {
  const session = useQuery(sessionQuery)
  const { schoolSettings: settings, save, error, lost, forgetLost } = useSchoolSettings()
  const isLead = session.data?.account?.role === 'lead'
  return (
    <Stack spacing={4}>
      <StageHead stage="School" />
      <ProblemNote error={error} />
      <LostFields lost={lost} onSeen={forgetLost} />
      {!isLead && <Typography color="text.secondary">{say`The lead changes these; everybody may read them.`}</Typography>}
      <Box component="fieldset" disabled={!isLead} sx={{ border: 0, m: 0, p: 0, minWidth: 0, ...columns('minmax(0, 1fr) minmax(0, 1fr)') }}>
        <Stack spacing={5}>
          <NameAndLogo settings={settings} save={save} />
          <Staff settings={settings} save={save} />
          <Defaults settings={settings} save={save} />
        </Stack>
        <Stack spacing={5}>
          <Checks settings={settings} save={save} />
          <Records settings={settings} save={save} />
          <Practice settings={settings} save={save} demo={session.data?.demo === true} />
          {isLead && <WholeSchool />}
          <Box>
            <Head>{say`Elsewhere`}</Head>
            <Stack direction="row" useFlexGap spacing={4} sx={{ flexWrap: 'wrap' }}>
              <Link to="/cones/schemes">{say`Cone schemes and stock`}</Link>
              <Link to="/brief/calls">{say`Phrase books`}</Link>
              <Link to="/debrief/thresholds">{say`What counts as a mistake`}</Link>
            </Stack>
          </Box>
        </Stack>
      </Box>
    </Stack>
  )
}

const Head = ({ children }: { children: string }) => (
  <Typography variant="head" component="h2" sx={{ mb: 2 }}>
    {children}
  </Typography>
)

/** Largest picture for a logo, as it is stored with the settings (bytes). */
const LARGEST_LOGO = 140_000

const NameAndLogo = ({ settings, save }: PartProps) => {
  const [problem, setProblem] = useState<string | null>(null)
  const choose = (file: File | null): void => {
    if (!file) return
    if (!/^image\/(png|jpeg)$/.test(file.type) || file.size > LARGEST_LOGO) {
      setProblem(say`Choose a PNG or JPEG picture of at most ${Math.round(LARGEST_LOGO / 1000)} kB; the logo stays as it was.`)
      return
    }
    setProblem(null)
    const reader = new FileReader()
    reader.onload = () => typeof reader.result === 'string' && save({ logo: reader.result })
    reader.readAsDataURL(file)
  }
  return (
    <Box component="section" aria-label={say`The school`}>
      <Head>{say`The school`}</Head>
      <Stack spacing={3}>
        <TextField
          key={settings.name}
          label="Name"
          defaultValue={settings.name}
          slotProps={{ htmlInput: { maxLength: 80 } }}
          onBlur={(e) => e.target.value.trim() !== settings.name && save({ name: e.target.value.trim() })}
        />
        <Stack direction="row" useFlexGap spacing={3} sx={{ alignItems: 'center', flexWrap: 'wrap' }}>
          {settings.logo && <Box component="img" src={settings.logo} alt={say`The school’s logo`} sx={{ maxHeight: 48, maxWidth: 160 }} />}
          <FileChoice
            label={settings.logo ? say`Another logo` : say`Logo for prints`}
            accept="image/png,image/jpeg"
            file={null}
            onChoose={choose}
          />
          {settings.logo && (
            <Button size="small" variant="text" onClick={() => save({ logo: '' })}>
              {say`No logo`}
            </Button>
          )}
        </Stack>
        {problem && <Typography role="alert">{problem}</Typography>}
      </Stack>
    </Box>
  )
}

const unitOptions = [
  ['metric', say`metres and km/h`],
  ['imperial', say`feet, miles and mph`],
] as const

const Staff = ({ settings, save }: PartProps) => (
  <Box component="section" aria-label={say`Units and language`}>
    <Head>{say`Units and language`}</Head>
    <Stack direction="row" useFlexGap spacing={3} sx={{ flexWrap: 'wrap' }}>
      <PickField
        label={say`Language of all pages`}
        value={settings.staff.language}
        options={languages.map((l) => [l, wordsIn(l).language] as const)}
        onPick={(language) => save({ staff: { ...settings.staff, language } })}
        width={140}
      />
      <PickField
        label={say`Units of all pages`}
        value={settings.staff.units}
        options={unitOptions}
        onPick={(units) => save({ staff: { ...settings.staff, units } })}
        width={200}
      />
    </Stack>
    <Typography variant="text" color="text.secondary" sx={{ mt: 1 }}>
      {say`New students begin with these units; each may have others, and a language of their own for all that they read.`}
    </Typography>
  </Box>
)

const paces = paceOptions.map((o) => [o.value, o.label] as const)
const schools = brakingSchools.map((s) => [s, brakingWords[s].name] as const)

const Defaults = ({ settings, save }: PartProps) => {
  const { schemes, books } = useSchoolSettings()
  const { defaults } = settings
  const put = (next: Partial<SchoolSettings['defaults']>): void => save({ defaults: { ...defaults, ...next } })
  const schemeOptions = (schemes.length > 0 ? schemes : coneSchemes).map((s) => [s.id, sayWhole(s.name)] as const)
  return (
    <Box component="section" aria-label={say`New days begin with`}>
      <Head>{say`New days begin with`}</Head>
      <Stack spacing={3}>
        <Stack direction="row" useFlexGap spacing={3} sx={{ flexWrap: 'wrap' }}>
          <PickField
            label={say`Pace`}
            value={String(defaults.pace)}
            options={paces}
            onPick={(pace) => put({ pace: Number(pace) })}
            width={150}
          />
          <PickField
            label={say`Braking style`}
            value={defaults.school}
            options={schools}
            onPick={(school) => put({ school })}
            width={130}
          />
          <PickField
            label={say`Cone scheme`}
            value={defaults.schemeId}
            options={schemeOptions}
            onPick={(schemeId) => put({ schemeId })}
            width={220}
          />
          <PickField
            label={say`Phrase book`}
            value={defaults.bookId || 'usual'}
            options={[['usual', say`the one of the language`] as const, ...books.map((b) => [b.id, b.name] as const)]}
            onPick={(bookId) => put({ bookId: bookId === 'usual' ? '' : bookId })}
            width={220}
          />
        </Stack>
        <Box>
          <Typography variant="text" color="text.secondary">
            {say`By level, for groups that are made by level:`}
          </Typography>
          {levels.map((level) => {
            const own = defaults.byLevel[level] ?? { pace: defaults.pace, school: defaults.school }
            const set = (next: Partial<typeof own>): void => put({ byLevel: { ...defaults.byLevel, [level]: { ...own, ...next } } })
            return (
              <Stack key={level} direction="row" useFlexGap spacing={3} sx={{ alignItems: 'flex-end', flexWrap: 'wrap', mt: 2 }}>
                <Typography sx={{ width: 90 }}>{levelName(level)}</Typography>
                <PickField
                  label={say`Pace, ${levelName(level)}`}
                  value={String(own.pace)}
                  options={paces}
                  onPick={(p) => set({ pace: Number(p) })}
                  width={150}
                />
                <PickField
                  label={say`Braking, ${levelName(level)}`}
                  value={own.school}
                  options={schools}
                  onPick={(school) => set({ school })}
                  width={150}
                />
              </Stack>
            )
          })}
        </Box>
      </Stack>
    </Box>
  )
}

const Checks = ({ settings, save }: PartProps) => (
  <Box component="section" aria-label={say`Checks and cautions`}>
    <Head>{say`Checks and cautions`}</Head>
    <Stack spacing={3}>
      <LinesField
        label={say`Checked before every run`}
        lines={settings.checkOff.map(sayWhole)}
        note={say`One line for each. New days begin with these; each day may change its own.`}
        onChange={(lines) => save({ checkOff: lines.slice(0, 12).map((l) => l.slice(0, 80)) })}
      />
      <LinesField
        label={say`Cautions of your own`}
        lines={settings.cautions}
        note={say`One line for each, shown beside the product’s own cautions, which stay.`}
        onChange={(lines) => save({ cautions: lines.slice(0, 12) })}
      />
    </Stack>
  </Box>
)

const retentionOptions = [
  ['0', say`until somebody erases them`],
  ['12', say`1 year after their last day`],
  ['24', say`2 years after their last day`],
  ['36', say`3 years after their last day`],
  ['60', say`5 years after their last day`],
] as const

const Records = ({ settings, save }: PartProps) => (
  <Box component="section" aria-label={say`Records`}>
    <Head>{say`Records`}</Head>
    <PickField
      label={say`Students are kept`}
      value={retentionOptions.find(([months]) => months === String(settings.retention_months))?.[0] ?? '0'}
      options={retentionOptions}
      onPick={(months) => save({ retention_months: Number(months) })}
      width={260}
    />
    <Typography variant="text" color="text.secondary" sx={{ mt: 1 }}>
      {say`Whoever is past that time is named under Students, to be erased by the lead; nothing is erased by itself.`}
    </Typography>
  </Box>
)

const Practice = ({ settings, save, demo }: PartProps & { demo: boolean }) => (
  <Box component="section" aria-label={say`Practice`}>
    <Head>{say`Practice with simulated devices`}</Head>
    {demo ? (
      <Typography variant="text">{say`This is the demo: its devices are simulated and always there.`}</Typography>
    ) : (
      <>
        <FormControlLabel
          control={<Checkbox size="small" checked={settings.practice} onChange={(_, practice) => save({ practice })} />}
          label={say`Simulated loggers, radio, beam and weather may be switched on`}
        />
        <Typography variant="text" color="text.secondary">
          {say`What they drive is marked as practice: it is in no record, on no sheet, in no group and in no report.`}
        </Typography>
      </>
    )}
  </Box>
)

/** The whole school as one file: out of here at any time, in here while there is nothing yet. */
const WholeSchool = () => {
  const circuits = useQuery(circuitsQuery)
  const students = useQuery(studentsQuery)
  const [file, setFile] = useState<File | null>(null)
  const read = useMutation({
    mutationFn: (chosen: File) => call(api.importSchool, { file: chosen }),
    // Whoever read it in is of another school now.
    onSuccess: () => window.location.assign('/'),
  })
  const isEmpty = circuits.data?.length === 0 && students.data?.length === 0
  return (
    <Box component="section" aria-label={say`The whole school`}>
      <Head>{say`The whole school as one file`}</Head>
      <Typography variant="text" color="text.secondary" sx={{ mb: 2 }}>
        {say`People, circuits, days, runs and logs, for another machine or for the safe. It holds the hashes of passwords: keep it like a key.`}
      </Typography>
      <Stack direction="row" useFlexGap spacing={3} sx={{ alignItems: 'center', flexWrap: 'wrap' }}>
        <Button size="small" variant="outlined" component="a" href={addressOf(api.exportSchool, undefined, undefined)} download>
          {say`Export everything`}
        </Button>
        {isEmpty && (
          <>
            <FileChoice label={say`Choose an archive`} accept=".gz,.jsonl" file={file} onChoose={setFile} />
            <Button size="small" variant="contained" disabled={!file || read.isPending} onClick={() => file && read.mutate(file)}>
              {read.isPending ? say`Reading …` : say`Read it in`}
            </Button>
          </>
        )}
      </Stack>
      <ProblemNote error={read.error} />
      {isEmpty && (
        <Typography variant="text" color="text.secondary">
          {say`Accounts come along with it: afterwards you sign in with one of that school.`}
        </Typography>
      )}
    </Box>
  )
}
