import { Stack, TextField, ToggleButton, ToggleButtonGroup } from '@mui/material'
import { type CallWork, type Intensity, intensities, type PhraseBook } from '@ochote/core'
import { say, sayWhole } from '../../language/say.ts'
import { type CalledKind, calledLaps } from '../../shared/calls/use-called-lap.ts'
import { PickField } from '../../shared/pick-field.tsx'
import { StudentChoice } from '../../shared/student-choice.tsx'

/** Audience of the calls: a student, or anybody who wants this amount of talk; on which lap. */
export type CallsFor = { intensity: Intensity; studentId: string | null; lap: CalledKind }

/** How much talk, as it is chosen. */
export const intensityWords: Record<Intensity, string> = { quiet: say`Quiet`, guided: say`Guided`, driven: say`Driven` }

const saidOptions = [
  ['car', say`in the car`],
  ['radio', say`by radio`],
] as const

const gearOptions = [
  ['named', say`by name`],
  ['steps', say`“down one”`],
] as const

type Props = {
  work: CallWork
  books: readonly PhraseBook[]
  who: CallsFor
  /** True if the day can be changed. */
  kept: boolean
  onWho: (who: CallsFor) => void
  onChange: (change: Partial<Pick<CallWork, 'bookId' | 'link_s' | 'reaction_s' | 'rate_wps' | 'gears'>>) => void
}

/** For whom calls are shown, and how they are said on this day. */
export const CallOptions = ({ work, books, who, kept, onWho, onChange }: Props) => (
  <Stack direction="row" useFlexGap spacing={4} sx={{ alignItems: 'flex-end', flexWrap: 'wrap' }}>
    <ToggleButtonGroup
      size="small"
      exclusive
      aria-label={say`How much talk`}
      value={who.intensity}
      onChange={(_, v: Intensity | null) => v && onWho({ ...who, intensity: v })}
    >
      {intensities.map((i) => (
        <ToggleButton key={i} value={i} sx={{ py: 0 }}>
          {intensityWords[i]}
        </ToggleButton>
      ))}
    </ToggleButtonGroup>
    <StudentChoice
      studentId={who.studentId}
      onChoose={(student) => onWho({ ...who, studentId: student?.id ?? null, intensity: student?.talk ?? who.intensity })}
    />
    <PickField label={say`Which lap`} value={who.lap} options={calledLaps} onPick={(lap) => onWho({ ...who, lap })} width={160} />
    <PickField
      label={say`Phrase book`}
      value={work.bookId}
      disabled={!kept}
      options={books.map((b) => [b.id, sayWhole(b.name)] as const)}
      onPick={(bookId) => onChange({ bookId })}
      width={270}
    />
    <PickField
      label={say`Said`}
      value={work.link_s > 0 ? 'radio' : 'car'}
      disabled={!kept}
      options={saidOptions}
      onPick={(said) => onChange({ link_s: said === 'radio' ? 0.3 : 0 })}
      width={120}
    />
    <PickField
      label={say`Gears`}
      value={work.gears}
      disabled={!kept}
      options={gearOptions}
      onPick={(gears) => onChange({ gears })}
      width={130}
    />
    <Seconds
      label={say`Reaction`}
      unit="s"
      value={work.reaction_s}
      range={[0.2, 3]}
      disabled={!kept}
      onChange={(reaction_s) => onChange({ reaction_s })}
    />
    <Seconds
      label={say`Words per second`}
      unit=""
      value={work.rate_wps}
      range={[1, 8]}
      disabled={!kept}
      onChange={(rate_wps) => onChange({ rate_wps })}
    />
  </Stack>
)

const Seconds = ({
  label,
  unit,
  value,
  range: [min, max],
  disabled,
  onChange,
}: {
  label: string
  unit: string
  value: number
  range: readonly [number, number]
  disabled: boolean
  onChange: (value: number) => void
}) => (
  <TextField
    key={value}
    label={unit ? `${label}, ${unit}` : label}
    type="number"
    defaultValue={value}
    disabled={disabled}
    slotProps={{ htmlInput: { min: min, max: max, step: 0.1 } }}
    onBlur={(e) => {
      const next = Number(e.target.value)
      if (next >= min && next <= max && next !== value) onChange(next)
      else e.target.value = String(value)
    }}
    sx={{ width: 110 }}
  />
)
