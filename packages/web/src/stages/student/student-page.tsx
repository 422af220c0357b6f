import { Box, Button, Stack, TextField, Typography } from '@mui/material'
import { api, type OwnTime, type Portal } from '@ochote/contract'
import {
  type BriefingPart,
  briefingParts,
  type ConeKind,
  type ConeRule,
  firstName,
  formatDate,
  type Intensity,
  intensities,
  languages,
  type StudentProfile,
  type UnitSystem,
} from '@ochote/core'
import { useMutation, useQuery } from '@tanstack/react-query'
import dayjs from 'dayjs'
import { useState } from 'react'
import { Link, useParams } from 'react-router'
import { v7 as uuid } from 'uuid'
import { addressOf, call } from '../../data/api/api-client.ts'
import { portalQuery, queryClient } from '../../data/api/queries.ts'
import { useLink } from '../../data/events/use-link.ts'
import { FlagSign } from '../../shared/flag-sign.tsx'
import type { StudentWords } from '../../shared/language/student-words.ts'
import { browserLanguage, wordsIn } from '../../shared/language/words.ts'
import { RuleGlyphs } from '../../shared/marks/rule-glyphs.tsx'
import { OwnCautions } from '../../shared/own-cautions.tsx'
import { PickField } from '../../shared/pick-field.tsx'
import { ProblemNote } from '../../shared/problem-note.tsx'
import { Reading } from '../../shared/reading.tsx'
import { OwnDrives } from './own-drives.tsx'
import { RecallQuiz } from './recall-quiz.tsx'

/** How often the page asks whether times have changed (ms). */
const ASK_EVERY_MS = 30_000

/** A student's page on the phone: no sign-in, one column, plain words, their language. */
export const StudentPage = () => {
  const { token = '' } = useParams()
  const portal = useQuery({ ...portalQuery(token), refetchInterval: ASK_EVERY_MS })
  const opened = useLink(token, portal)
  return (
    <Box component="main" sx={{ maxWidth: 520, mx: 'auto', p: 4 }}>
      {opened ? <Page token={token} portal={opened} /> : <ProblemNote error={portal.error} language={browserLanguage()} />}
      {portal.isPending && <Reading what={wordsIn(browserLanguage()).phone.reading} />}
    </Box>
  )
}

const Page = ({ token, portal }: { token: string; portal: Portal }) => {
  const words = wordsIn(portal.student.profile.language)
  const { phone } = words
  const [asked, setAsked] = useState(false)
  const quiz = <RecallQuiz token={token} portal={portal} words={words} asked={asked} onAsked={setAsked} />
  // Questions have the page to themselves: nothing else moves under them.
  if (asked) return <Box lang={portal.student.profile.language ?? 'en'}>{quiz}</Box>
  return (
    <Stack spacing={5} lang={portal.student.profile.language ?? 'en'}>
      <Box>
        <Typography variant="title">{phone.hello(firstName(portal.student.name))}</Typography>
        <Typography color="text.secondary">{`${portal.title}, ${formatDate(portal.date, words.code)}`}</Typography>
      </Box>
      <NextForYou token={token} portal={portal} words={words} onQuiz={() => setAsked(true)} />
      <Times token={token} portal={portal} words={words} />
      <Briefing token={token} portal={portal} words={words} />
      {quiz}
      <FromMemory token={token} words={words} />
      <OwnDrives token={token} portal={portal} words={words} />
      <AboutYou token={token} portal={portal} words={words} />
      <Typography variant="note" color="text.secondary">
        {words.caution}
      </Typography>
      <OwnCautions cautions={portal.cautions} variant="note" />
      <Typography variant="note" color="text.secondary">
        {phone.yours}
      </Typography>
    </Stack>
  )
}

const timeInWords = ({ kind, car, instructor }: OwnTime, { phone }: StudentWords): string =>
  [phone.timeKinds[kind], car && phone.withCar(car), instructor].filter(Boolean).join(', ')

/** What the last announcement changed: lines that are gone, and those that are new. */
const Changed = ({ changed, words }: { changed: NonNullable<Portal['changed']>; words: StudentWords }) => {
  const { phone } = words
  const line = (time: OwnTime, gone: boolean) => (
    <Box key={`${gone} ${time.start} ${time.kind}`} component="li" sx={gone ? { color: 'text.secondary' } : { fontWeight: 640 }}>
      <span className="figures">{`${time.start}–${time.end} `}</span>
      {`${timeInWords(time, words)}: ${gone ? phone.noLonger : phone.isNew}`}
    </Box>
  )
  const title = phone.changedAt(dayjs(changed.at).format('HH:mm'))
  return (
    <Box role="status" aria-label={title} sx={{ borderLeft: 'note', borderColor: 'warning.main', pl: 3 }}>
      <Typography variant="head">{title}</Typography>
      <Box component="ul" sx={{ m: 0, p: 0, listStyle: 'none' }}>
        {changed.gone.map((time) => line(time, true))}
        {changed.added.map((time) => line(time, false))}
      </Box>
    </Box>
  )
}

/** The student's own times of the day, and the way into their calendar. */
const Times = ({ token, portal, words }: Props) => {
  const { phone } = words
  return (
    <Stack component="section" aria-label={phone.times} spacing={2}>
      <Typography variant="head">{phone.times}</Typography>
      {portal.times.length === 0 && <Typography>{phone.noTimes}</Typography>}
      {portal.changed && <Changed changed={portal.changed} words={words} />}
      {portal.sections.length > 0 && <Typography>{phone.workOn(portal.sections.join(', '))}</Typography>}
      <Box component="ol" sx={{ m: 0, p: 0, listStyle: 'none' }}>
        {portal.times.map((time) => (
          <Stack
            key={`${time.start} ${time.kind} ${time.title}`}
            component="li"
            direction="row"
            spacing={3}
            sx={{ borderTop: 'hair', borderColor: 'divider', py: 2 }}
          >
            <Box className="figures" sx={{ fontWeight: 620, whiteSpace: 'nowrap' }}>{`${time.start}–${time.end}`}</Box>
            <Box>{timeInWords(time, words)}</Box>
          </Stack>
        ))}
      </Box>
      {portal.times.length > 0 && (
        <Box>
          <Button component="a" href={addressOf(api.portalCalendar, { token }, undefined)} variant="outlined">
            {phone.calendar}
          </Button>
        </Box>
      )}
    </Stack>
  )
}

/** The way to the lap driven from memory. */
const FromMemory = ({ token, words: { phone } }: Pick<Props, 'token' | 'words'>) => (
  <Stack component="section" aria-label={phone.memory.title} spacing={3}>
    <Typography variant="head">{phone.memory.title}</Typography>
    <Typography>{phone.memory.note}</Typography>
    <Button variant="outlined" component={Link} to={`/s/${token}/memory`}>
      {phone.begin}
    </Button>
  </Stack>
)

/** What is asked of a student now, the first of it as the one filled button of the page. */
const NextForYou = ({ token, portal, words, onQuiz }: Props & { onQuiz: () => void }) => {
  const { phone } = words
  const unread = briefingParts.filter((part) => !portal.acknowledged[part] && hasPart(part, portal, words))
  const drive = portal.drives.find((d) => d.sheet || d.words > 0)
  const next = [
    ...(unread.length > 0 ? [{ words: phone.partsLeft(unread.length), href: `#${unread[0]}` }] : []),
    ...(portal.answered.asked === 0 ? [{ words: phone.quiz, onClick: onQuiz }] : []),
    ...(drive ? [{ words: phone.lookBackAt(formatDate(drive.date, words.code)), href: `/s/${token}/drives/${drive.runId}` }] : []),
  ]
  return (
    <Stack
      component="section"
      aria-label={phone.nextForYou}
      spacing={2}
      sx={{ border: 'hair', borderColor: 'text.primary', backgroundColor: 'background.paper', p: 4 }}
    >
      <Typography variant="head">{phone.nextForYou}</Typography>
      {next.length === 0 && <Typography>{phone.allDone}</Typography>}
      {next.map(({ words: told, ...way }, i) => (
        <Button key={told} variant={i === 0 ? 'contained' : 'outlined'} {...way}>
          {told}
        </Button>
      ))}
    </Stack>
  )
}

type Props = { token: string; portal: Portal; words: StudentWords }
const put = (token: string) => (next: Portal) => queryClient.setQueryData(portalQuery(token).queryKey, next)

/** True for a part that has something to read. */
const hasPart = (part: BriefingPart, portal: Portal, words: StudentWords): boolean =>
  part === 'cones' || linesOf(part, portal, words).length > 0

/** Lines of a part: the product's words first, then the school's. */
const linesOf = (part: BriefingPart, portal: Portal, words: StudentWords): readonly string[] => {
  const entered = portal.parts[part]
  switch (part) {
    case 'safety':
      return [...words.safety, ...words.wrong, ...entered]
    case 'flags':
      return portal.flags.map((f) => `${f.name}: ${f.meaning}`)
    case 'signals':
      return [...words.signals, ...words.radio, ...entered]
    case 'car':
      return [portal.vehicleName, ...entered]
    case 'circuit':
      return portal.corners.map((c, i) => `${i + 1} ${c.name}`)
    default:
      return entered
  }
}

const Briefing = ({ token, portal, words }: Props) => {
  const { phone } = words
  const [open, setOpen] = useState<BriefingPart | null>(null)
  const acknowledge = useMutation({
    mutationFn: (part: BriefingPart | 'radio') => call(api.portalAcknowledge, { params: { token }, body: { id: uuid(), part } }),
    onSuccess: put(token),
  })
  return (
    <Stack component="section" aria-label={phone.briefing} spacing={2}>
      <Typography variant="head">{phone.briefing}</Typography>
      <ProblemNote error={acknowledge.error} language={words.code} />
      {briefingParts.map((part) => {
        const at = portal.acknowledged[part]
        const lines = linesOf(part, portal, words)
        if (!hasPart(part, portal, words)) return null
        return (
          <Box key={part} id={part} sx={{ borderBottom: 'hair', borderColor: 'divider' }}>
            <Button
              fullWidth
              variant="text"
              color="secondary"
              aria-expanded={open === part}
              onClick={() => setOpen(open === part ? null : part)}
              sx={{ justifyContent: 'space-between', px: 0 }}
            >
              <span>{phone.parts[part]}</span>
              <Stack component="span" direction="row" spacing={3} sx={{ alignItems: 'center', fontSize: 'size.note' }}>
                {at && phone.readAt(at.slice(11, 16))}
                <Box component="span" aria-hidden="true" sx={{ fontSize: 'size.head', lineHeight: 1 }}>
                  {open === part ? '–' : '+'}
                </Box>
              </Stack>
            </Button>
            {open === part && (
              <Stack spacing={2} sx={{ pb: 3 }}>
                {part === 'cones' &&
                  (Object.entries(portal.scheme.rules) as [ConeKind, ConeRule][]).map(([kind, rule]) => (
                    <Stack key={kind} direction="row" spacing={3} sx={{ alignItems: 'center' }}>
                      <Box sx={{ width: 96 }}>
                        <RuleGlyphs rule={rule} size={30} />
                      </Box>
                      <span>{words.marks[kind]}</span>
                    </Stack>
                  ))}
                {part === 'flags' &&
                  portal.flags.map((flag) => (
                    <Stack key={flag.name} direction="row" spacing={3} sx={{ alignItems: 'center' }}>
                      <FlagSign name={flag.name} />
                      <span>{`${flag.name}: ${flag.meaning}`}</span>
                    </Stack>
                  ))}
                {(part === 'flags' ? [] : lines).map((line) => (
                  <Box key={line} sx={{ borderLeft: 'note', borderColor: part === 'safety' ? 'error.main' : 'divider', pl: 3 }}>
                    {line}
                  </Box>
                ))}
                {!at && (
                  <Button variant="outlined" disabled={acknowledge.isPending} onClick={() => acknowledge.mutate(part)}>
                    {phone.read}
                  </Button>
                )}
              </Stack>
            )}
          </Box>
        )
      })}
      <Stack direction="row" spacing={3} sx={{ alignItems: 'center', pt: 2 }}>
        <Box sx={{ flex: 1 }}>{portal.radioHeard ? `${words.titles.radio}: ${portal.radioHeard.slice(11, 16)}` : phone.radioAsk}</Box>
        {!portal.radioHeard && (
          <Button variant="outlined" onClick={() => acknowledge.mutate('radio')}>
            {phone.radioHeard}
          </Button>
        )}
      </Stack>
    </Stack>
  )
}

const AboutYou = ({ token, portal, words }: Props) => {
  const { phone } = words
  const [profile, setProfile] = useState<StudentProfile>(portal.student.profile)
  const [talk, setTalk] = useState<Intensity>(portal.student.talk)
  const [units, setUnits] = useState<UnitSystem>(portal.student.units)
  const keep = useMutation({
    mutationFn: () => call(api.portalProfile, { params: { token }, body: { version: portal.student.version, profile, talk, units } }),
    onSuccess: put(token),
    // The next try is made from what is there now.
    onError: () => queryClient.invalidateQueries({ queryKey: portalQuery(token).queryKey }),
  })
  const change = (next: Partial<StudentProfile>): void => {
    keep.reset()
    setProfile({ ...profile, ...next })
  }
  const field = (key: 'experience' | 'car' | 'goals', label: string) => (
    <TextField
      label={label}
      multiline={key !== 'car'}
      value={profile[key]}
      slotProps={{ htmlInput: { maxLength: key === 'car' ? 80 : 300 } }}
      onChange={(e) => change({ [key]: e.target.value })}
    />
  )
  return (
    <Stack component="section" aria-label={phone.aboutYou} spacing={3}>
      <Typography variant="head">{phone.aboutYou}</Typography>
      <Typography color="text.secondary">{phone.aboutNote}</Typography>
      {field('experience', phone.experience)}
      {field('car', phone.car)}
      {field('goals', phone.goals)}
      <Box>
        <Box sx={{ mb: 2 }}>{phone.worries}</Box>
        <Stack direction="row" useFlexGap spacing={2} sx={{ flexWrap: 'wrap' }}>
          {portal.corners.map((c) => {
            const on = profile.worries.includes(c.id)
            return (
              <Button
                key={c.id}
                variant="outlined"
                aria-pressed={on}
                onClick={() => change({ worries: on ? profile.worries.filter((w) => w !== c.id) : [...profile.worries, c.id] })}
              >
                {c.name}
              </Button>
            )
          })}
        </Stack>
      </Box>
      <PickField label={phone.talk} value={talk} options={intensities.map((i) => [i, phone.talks[i]] as const)} onPick={setTalk} />
      <PickField
        label={phone.units}
        value={units}
        options={(['metric', 'imperial'] as const).map((u) => [u, phone.unitNames[u]] as const)}
        onPick={setUnits}
      />
      <PickField
        label={phone.tongue}
        value={profile.language ?? 'en'}
        options={languages.map((l) => [l, wordsIn(l).language] as const)}
        onPick={(language) => change({ language })}
      />
      <ProblemNote error={keep.error} language={words.code} />
      <Button variant="outlined" disabled={keep.isPending} onClick={() => keep.mutate()}>
        {keep.isSuccess ? phone.kept : phone.keep}
      </Button>
    </Stack>
  )
}
