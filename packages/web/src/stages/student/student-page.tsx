import { Box, Button, Stack, TextField, Typography } from '@mui/material'
import { api, type Portal } from '@ochote/contract'
import {
  type BriefingPart,
  briefingParts,
  type ConeKind,
  type ConeRule,
  type Intensity,
  intensities,
  languages,
  type StudentProfile,
  type UnitSystem,
} from '@ochote/core'
import { useMutation, useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { useParams } from 'react-router'
import { v7 as uuid } from 'uuid'
import { call } from '../../data/api/api-client.ts'
import { portalQuery, queryClient } from '../../data/api/queries.ts'
import type { StudentWords } from '../../shared/language/student-words.ts'
import { browserLanguage, wordsIn } from '../../shared/language/words.ts'
import { RuleGlyphs } from '../../shared/marks/rule-glyphs.tsx'
import { PickField } from '../../shared/pick-field.tsx'
import { ProblemNote } from '../../shared/problem-note.tsx'
import { OwnDrives } from './own-drives.tsx'
import { RecallQuiz } from './recall-quiz.tsx'

/** A student's page on the phone: no sign-in, one column, plain words, their language. */
export const StudentPage = () => {
  const { token = '' } = useParams()
  const portal = useQuery(portalQuery(token))
  return (
    <Box component="main" sx={{ maxWidth: 520, mx: 'auto', p: 2, fontSize: 17 }}>
      {portal.data ? <Page token={token} portal={portal.data} /> : <ProblemNote error={portal.error} language={browserLanguage()} />}
      {portal.isPending && <Typography role="status">…</Typography>}
    </Box>
  )
}

const Page = ({ token, portal }: { token: string; portal: Portal }) => {
  const words = wordsIn(portal.student.profile.language)
  const { phone } = words
  return (
    <Stack spacing={3} lang={portal.student.profile.language ?? 'en'}>
      <Box>
        <Typography variant="h1">{phone.hello(portal.student.name.split(' ')[0])}</Typography>
        <Typography color="text.secondary">{`${portal.title}, ${portal.date}`}</Typography>
      </Box>
      <Briefing token={token} portal={portal} words={words} />
      <RecallQuiz token={token} portal={portal} words={words} />
      <OwnDrives token={token} portal={portal} words={words} />
      <AboutYou token={token} portal={portal} words={words} />
      <Typography variant="body2" color="text.secondary">
        {words.caution}
      </Typography>
      <Typography variant="body2" color="text.secondary">
        {phone.yours}
      </Typography>
    </Stack>
  )
}

type Props = { token: string; portal: Portal; words: StudentWords }
const put = (token: string) => (next: Portal) => queryClient.setQueryData(portalQuery(token).queryKey, next)

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
    <Stack component="section" aria-label={phone.briefing} spacing={1}>
      <Typography variant="h2">{phone.briefing}</Typography>
      <ProblemNote error={acknowledge.error} language={words.code} />
      {briefingParts.map((part) => {
        const at = portal.acknowledged[part]
        const lines = linesOf(part, portal, words)
        if (lines.length === 0 && part !== 'cones') return null
        return (
          <Box key={part} sx={{ borderBottom: '1px solid', borderColor: 'divider' }}>
            <Button
              fullWidth
              variant="text"
              color="secondary"
              aria-expanded={open === part}
              onClick={() => setOpen(open === part ? null : part)}
              sx={{ minHeight: 52, justifyContent: 'space-between', fontSize: 18, px: 0 }}
            >
              <span>{phone.parts[part]}</span>
              <Box component="span" sx={{ fontSize: 14, color: at ? 'primary.main' : 'text.secondary' }}>
                {at ? phone.readAt(at.slice(11, 16)) : open === part ? '–' : '+'}
              </Box>
            </Button>
            {open === part && (
              <Stack spacing={1} sx={{ pb: 1.5 }}>
                {part === 'cones' &&
                  (Object.entries(portal.scheme.rules) as [ConeKind, ConeRule][]).map(([kind, rule]) => (
                    <Stack key={kind} direction="row" spacing={1.5} sx={{ alignItems: 'center' }}>
                      <Box sx={{ width: 96 }}>
                        <RuleGlyphs rule={rule} size={30} />
                      </Box>
                      <span>{words.marks[kind]}</span>
                    </Stack>
                  ))}
                {lines.map((line) => (
                  <Box key={line} sx={{ borderLeft: '4px solid', borderColor: part === 'safety' ? 'error.main' : 'primary.main', pl: 1.5 }}>
                    {line}
                  </Box>
                ))}
                {!at && (
                  <Button
                    variant="contained"
                    sx={{ minHeight: 52 }}
                    disabled={acknowledge.isPending}
                    onClick={() => acknowledge.mutate(part)}
                  >
                    {phone.read}
                  </Button>
                )}
              </Stack>
            )}
          </Box>
        )
      })}
      <Stack direction="row" spacing={1.5} sx={{ alignItems: 'center', pt: 1 }}>
        <Box sx={{ flex: 1 }}>{portal.radioHeard ? `${words.titles.radio}: ${portal.radioHeard.slice(11, 16)}` : phone.radioAsk}</Box>
        {!portal.radioHeard && (
          <Button variant="contained" sx={{ minHeight: 56, fontSize: 18 }} onClick={() => acknowledge.mutate('radio')}>
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
    mutationFn: () => call(api.portalProfile, { params: { token }, body: { profile, talk, units } }),
    onSuccess: put(token),
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
    <Stack component="section" aria-label={phone.aboutYou} spacing={1.75}>
      <Typography variant="h2">{phone.aboutYou}</Typography>
      <Typography color="text.secondary">{phone.aboutNote}</Typography>
      {field('experience', phone.experience)}
      {field('car', phone.car)}
      {field('goals', phone.goals)}
      <Box>
        <Box sx={{ mb: 0.75 }}>{phone.worries}</Box>
        <Stack direction="row" useFlexGap spacing={1} sx={{ flexWrap: 'wrap' }}>
          {portal.corners.map((c) => {
            const on = profile.worries.includes(c.id)
            return (
              <Button
                key={c.id}
                variant={on ? 'contained' : 'outlined'}
                aria-pressed={on}
                sx={{ minHeight: 46 }}
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
      <Button variant="contained" sx={{ minHeight: 56, fontSize: 18 }} disabled={keep.isPending} onClick={() => keep.mutate()}>
        {keep.isSuccess ? phone.kept : phone.keep}
      </Button>
    </Stack>
  )
}
