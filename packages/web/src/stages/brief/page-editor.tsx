import { Box, Button, Checkbox, FormControlLabel, Stack, TextField, ToggleButton, ToggleButtonGroup, Typography } from '@mui/material'
import type { Briefing, DayPlan } from '@ochote/contract'
import { type Level, levels, type Plan, paces } from '@ochote/core'
import { useDay } from '../../data/day/day-context.tsx'
import { say } from '../../language/say.ts'
import { levelName } from '../../shared/language/staff-words.ts'
import { LinesField } from '../../shared/lines-field.tsx'
import { useNotes } from '../circuit/use-notes.ts'
import { AskedHere } from './asked-here.tsx'
import type { BriefPage } from './brief-pages.ts'
import { OwnText } from './page-view.tsx'

/** Parts of the briefing that the school fills in; without lines they have no page. */
const entered = {
  pits: say`Leaving and entering the pits`,
  passing: say`Passing`,
  signals: say`Signals in the car, beside ours`,
  radio: say`Radio check, beside ours`,
  wet: say`In the wet, beside ours`,
} as const satisfies Partial<Record<keyof Briefing, string>>
type Entered = keyof typeof entered

const isEntered = (id: string): id is Entered => id in entered

/** Pages that appear once something is entered for them. */
export const emptyParts = (day: DayPlan | undefined, plan: Plan): { id: string; title: string }[] => {
  if (!day) return []
  const { briefing } = day
  return [
    ...(day.rules.length === 0 ? [{ id: 'rules', title: say`Rules of the venue` }] : []),
    ...(day.flags.length === 0 ? [{ id: 'flags', title: say`Flags used here` }] : []),
    ...(['pits', 'passing'] as const).filter((id) => briefing[id].length === 0).map((id) => ({ id, title: entered[id] })),
    ...(briefing.controls[plan.vehicle.id]?.length ? [] : [{ id: 'car', title: say`The car: ${plan.vehicle.name}` }]),
  ]
}

/** Settings of one page: its audience, its notes, and the school's own text. */
export const PageEditor = ({
  id,
  page,
  plan,
  briefing,
  change,
}: {
  id: string
  page: BriefPage | undefined
  plan: Plan
  briefing: Briefing
  change: (next: Partial<Briefing>) => void
}) => {
  const { day, changePlan } = useDay()
  const hidden = briefing.hidden.includes(id)
  const forLevels = briefing.levels[id] ?? []
  const without = <T,>(record: Record<string, T>): Record<string, T> => {
    const { [id]: _, ...rest } = record
    return rest
  }
  return (
    <Stack spacing={4} component="section" aria-label={say`This page`}>
      <Typography variant="head">{page?.title ?? say`Nothing entered yet`}</Typography>
      <PageContent id={id} page={page} plan={plan} briefing={briefing} change={change} day={day?.plan} changePlan={changePlan} />
      {page && (
        <>
          <TextField
            key={`notes ${id}`}
            label={say`My notes, for the presenter’s window`}
            multiline
            minRows={2}
            maxRows={6}
            defaultValue={briefing.notes[id] ?? ''}
            onBlur={(e) => {
              const text = e.target.value.slice(0, 2000)
              if (text !== (briefing.notes[id] ?? ''))
                change({ notes: text === '' ? without(briefing.notes) : { ...briefing.notes, [id]: text } })
            }}
          />
          <Stack direction="row" useFlexGap spacing={4} sx={{ alignItems: 'center', flexWrap: 'wrap' }}>
            <FormControlLabel
              control={
                <Checkbox
                  checked={!hidden}
                  onChange={() => change({ hidden: hidden ? briefing.hidden.filter((h) => h !== id) : [...briefing.hidden, id] })}
                />
              }
              label={say`Told in the briefing`}
            />
            <ToggleButtonGroup
              size="small"
              aria-label={say`For which levels`}
              value={forLevels}
              onChange={(_, next: Level[]) =>
                change({ levels: next.length === 0 ? without(briefing.levels) : { ...briefing.levels, [id]: next } })
              }
            >
              {levels.map((level) => (
                <ToggleButton key={level} value={level} sx={{ py: 0 }}>
                  {levelName(level)}
                </ToggleButton>
              ))}
            </ToggleButtonGroup>
            <Typography variant="text" color="text.secondary">
              {forLevels.length === 0 ? say`for everybody` : say`only for ${forLevels.join(', ')}`}
            </Typography>
          </Stack>
        </>
      )}
    </Stack>
  )
}

type ContentProps = {
  id: string
  page: BriefPage | undefined
  plan: Plan
  briefing: Briefing
  change: (next: Partial<Briefing>) => void
  day: DayPlan | undefined
  changePlan: (change: (plan: DayPlan) => DayPlan) => void
}

const PageContent = ({ id, page, plan, briefing, change, day, changePlan }: ContentProps) => {
  if (!day) return <Typography>{say`Make a day first: what is entered is kept with it.`}</Typography>
  if (page?.kind === 'corner') return <CornerContent plan={plan} cornerId={page.corner.id} />
  if (page?.kind === 'own') return <OwnContent id={id} briefing={briefing} change={change} />
  if (id === 'rules')
    return <LinesField label={say`Rules of the venue`} lines={day.rules} onChange={(rules) => changePlan((p) => ({ ...p, rules }))} />
  if (id === 'flags')
    return (
      <LinesField
        label={say`Flags used here`}
        lines={day.flags.map((f) => `${f.name}: ${f.meaning}`)}
        note={say`One flag a line: its name, a colon, what it means.`}
        onChange={(lines) =>
          changePlan((p) => ({
            ...p,
            flags: lines.slice(0, 12).map((line) => {
              const [name, ...meaning] = line.split(':')
              return { name: name.trim().slice(0, 40), meaning: meaning.join(':').trim().slice(0, 200) }
            }),
          }))
        }
      />
    )
  if (isEntered(id)) return <LinesField label={entered[id]} lines={briefing[id]} onChange={(lines) => change({ [id]: lines })} />
  if (id === 'car')
    return (
      <LinesField
        label={say`Controls of the ${plan.vehicle.name}`}
        lines={briefing.controls[plan.vehicle.id] ?? []}
        onChange={(lines) => change({ controls: { ...briefing.controls, [plan.vehicle.id]: lines } })}
      />
    )
  if (id === 'paces')
    return (
      <ToggleButtonGroup
        size="small"
        aria-label={say`Pace steps of the day`}
        value={briefing.paceSteps}
        onChange={(_, next: number[]) => change({ paceSteps: [...next].sort((a, b) => a - b) })}
      >
        {Object.entries(paces).map(([name, value]) => (
          <ToggleButton key={name} value={value} sx={{ py: 0 }}>
            {`${name} ${Math.round(100 * value)}%`}
          </ToggleButton>
        ))}
      </ToggleButtonGroup>
    )
  return (
    <Typography variant="text" color="text.secondary">
      {id === 'safety' || id === 'wrong'
        ? say`This page cannot be edited. The venue’s rules have their own page.`
        : say`Made from the plan: it follows every change by itself.`}
    </Typography>
  )
}

/** A corner's tip for traffic, kept with the circuit, and the questions asked there. */
const CornerContent = ({ plan, cornerId }: { plan: Plan; cornerId: string }) => {
  const { settings } = useDay()
  const { notes, change } = useNotes(settings?.circuitId ?? '')
  const tip = notes?.cornerTips[cornerId] ?? ''
  return (
    <>
      {notes && (
        <TextField
          key={`${cornerId} ${tip}`}
          label={say`Traffic here: where to pass and be passed, where nobody should`}
          multiline
          minRows={2}
          defaultValue={tip}
          slotProps={{ htmlInput: { maxLength: 300 } }}
          onBlur={(e) => {
            const { [cornerId]: _, ...rest } = notes.cornerTips
            const text = e.target.value.trim()
            if (text !== tip) change({ ...notes, cornerTips: text === '' ? rest : { ...rest, [cornerId]: text } })
          }}
        />
      )}
      <AskedHere plan={plan} cornerId={cornerId} />
    </>
  )
}

const OwnContent = ({ id, briefing, change }: Pick<ContentProps, 'id' | 'briefing' | 'change'>) => {
  const page = briefing.own.find((p) => p.id === id)
  if (!page) return null
  const put = (next: Partial<typeof page>): void => change({ own: briefing.own.map((p) => (p.id === id ? { ...p, ...next } : p)) })
  return (
    <>
      <TextField
        key={`title ${id}`}
        label={say`Title`}
        defaultValue={page.title}
        slotProps={{ htmlInput: { maxLength: 80 } }}
        onBlur={(e) => e.target.value !== page.title && put({ title: e.target.value })}
      />
      <TextField
        key={`text ${id}`}
        label="Text (Markdown)"
        multiline
        minRows={4}
        maxRows={12}
        defaultValue={page.text}
        helperText={say`Lists, bold and headings work. HTML, links and pictures are left out.`}
        slotProps={{ htmlInput: { maxLength: 4000 } }}
        onBlur={(e) => e.target.value !== page.text && put({ text: e.target.value })}
      />
      <Box sx={{ borderLeft: 'note', borderColor: 'divider', pl: 4, '& p': { my: 1 } }} aria-label={say`How it reads`}>
        <OwnText text={page.text} />
      </Box>
      <Box>
        <Button size="small" variant="text" onClick={() => change({ own: briefing.own.filter((p) => p.id !== id) })}>
          {say`Remove this page`}
        </Button>
      </Box>
    </>
  )
}
