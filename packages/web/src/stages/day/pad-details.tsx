import { Box, Button, Stack, TextField, Typography } from '@mui/material'
import { axles, gripSteps, type LaidExercise, type Pad, type PadExercise, type Surface } from '@ochote/core'
import { say } from '../../language/say.ts'
import { lengthOf, lengthUnit, metres, speedOf, speedUnit } from '../../language/staff-units.ts'
import { axleWords, sentencesOf, targetInWords } from '../../shared/pad/pad-words.ts'
import { PickField } from '../../shared/pick-field.tsx'
import { surfaceInside } from '../../shared/plan/setting-words.ts'

const surfacesOnPad = ['dry', 'damp', 'wet'] as const satisfies readonly Surface[]

const NumberField = ({
  label,
  value,
  onChange,
  width = 110,
}: {
  label: string
  value: number
  onChange: (value: number) => void
  width?: number
}) => (
  <TextField
    key={value}
    label={label}
    type="number"
    defaultValue={Number(value.toFixed(1))}
    slotProps={{ htmlInput: { step: 'any' } }}
    onBlur={(e) => {
      const next = Number(e.target.value)
      if (e.target.value !== '' && Number.isFinite(next) && Math.abs(next - value) > 0.05) onChange(next)
      else e.target.value = String(Number(value.toFixed(1)))
    }}
    sx={{ width }}
  />
)

const within = (value: number, min: number, max: number): number => Math.min(max, Math.max(min, value))

type DetailsProps = { laid: LaidExercise; onChange: (next: Partial<PadExercise>) => void; onRemove: () => void }

/** Sizes, surface and words of one exercise, with what they ask for. */
export const ExerciseDetails = ({ laid: { exercise, target, runOff_m, cones }, onChange, onRemove }: DetailsProps) => {
  const { kind, sizes, name, turn_deg, x_m, y_m, surface, axle = 'rear', axleShare = 1 } = exercise
  const size = (next: Partial<typeof sizes>): void => onChange({ sizes: { ...sizes, ...next } })
  const m = (value_m: number): number => lengthOf(value_m)
  const back = (shown: number): number => shown / lengthOf(1)
  return (
    <Stack spacing={2} component="section" aria-label={say`Exercise`}>
      <TextField
        label={say`Name`}
        defaultValue={name}
        onBlur={(e) => e.target.value.trim() && onChange({ name: e.target.value.trim().slice(0, 60) })}
      />
      <Typography role="status" sx={{ fontWeight: 640 }}>
        {targetInWords(exercise, target)}
      </Typography>
      <Typography variant="text">{say`${cones.length} cones; ${metres(runOff_m)} of room all round.`}</Typography>
      <Stack direction="row" useFlexGap spacing={2} sx={{ flexWrap: 'wrap' }}>
        <NumberField label={say`Along (${lengthUnit})`} value={m(x_m)} onChange={(v) => onChange({ x_m: back(v) })} />
        <NumberField label={say`Across (${lengthUnit})`} value={m(y_m)} onChange={(v) => onChange({ y_m: back(v) })} />
        <NumberField label={say`Turned (°)`} value={turn_deg} onChange={(v) => onChange({ turn_deg: within(v, -360, 360) })} />
        {kind === 'braking-box' && (
          <NumberField
            label={say`Entry (${speedUnit})`}
            value={speedOf(sizes.entry_mps)}
            onChange={(v) => size({ entry_mps: within(v / speedOf(1), 3, 45) })}
          />
        )}
        {(kind === 'slalom' || kind === 'lane-change') && (
          <>
            <NumberField
              label={say`Spacing (${lengthUnit})`}
              value={m(sizes.spacing_m)}
              onChange={(v) => size({ spacing_m: within(back(v), 6, 60) })}
            />
            <NumberField
              label={say`To the side (${lengthUnit})`}
              value={m(sizes.amplitude_m)}
              onChange={(v) => size({ amplitude_m: within(back(v), 0.5, 6) })}
            />
          </>
        )}
        {!['braking-box', 'slalom', 'lane-change'].includes(kind) && (
          <NumberField
            label={say`Radius (${lengthUnit})`}
            value={m(sizes.radius_m)}
            onChange={(v) => size({ radius_m: within(back(v), 5, 80) })}
          />
        )}
      </Stack>
      <Stack direction="row" useFlexGap spacing={2} sx={{ flexWrap: 'wrap' }}>
        <PickField
          label={say`Surface`}
          value={surface as string}
          options={surfacesOnPad.map((s) => [s as string, surfaceInside(s)] as const)}
          onPick={(s) => onChange({ surface: s as Surface })}
          width={130}
        />
        {kind === 'skid' && (
          <>
            <PickField
              label={say`Grip is taken from the`}
              value={axle}
              options={axles.map((a) => [a, axleWords[a]] as const)}
              onPick={(next) => onChange({ axle: next })}
              width={170}
            />
            <PickField
              label={say`What is left`}
              value={String(axleShare)}
              options={gripSteps.map((s) => [String(s), `${Math.round(100 * s)} %`] as const)}
              onPick={(s) => onChange({ axleShare: Number(s) })}
              width={110}
            />
          </>
        )}
      </Stack>
      {sentencesOf(exercise).map((sentence, k) => (
        <TextField
          // biome-ignore lint/suspicious/noArrayIndexKey: a sentence is its number
          key={k}
          label={say`Sentence ${k + 1}`}
          defaultValue={sentence}
          slotProps={{ htmlInput: { maxLength: 120 } }}
          onBlur={(e) => onChange({ sentences: sentencesOf(exercise).map((s, j) => (j === k ? e.target.value.trim() : s)) })}
        />
      ))}
      <Box>
        <Button size="small" variant="text" onClick={onRemove}>
          {say`Take it off the pad`}
        </Button>
      </Box>
    </Stack>
  )
}

/** How large the pad is, and where on the earth its base lines meet. */
export const PadSize = ({ pad, onChange }: { pad: Pad; onChange: (next: Partial<Pad>) => void }) => {
  const place = pad.place ?? null
  const back = (shown: number): number => shown / lengthOf(1)
  return (
    <Stack spacing={2} component="section" aria-label={say`The pad itself`}>
      <Typography variant="head" component="h2">
        {say`The pad itself`}
      </Typography>
      <Stack direction="row" useFlexGap spacing={2} sx={{ flexWrap: 'wrap' }}>
        <NumberField
          label={say`Length (${lengthUnit})`}
          value={lengthOf(pad.length_m)}
          onChange={(v) => onChange({ length_m: within(back(v), 20, 600) })}
        />
        <NumberField
          label={say`Width (${lengthUnit})`}
          value={lengthOf(pad.width_m)}
          onChange={(v) => onChange({ width_m: within(back(v), 15, 400) })}
        />
        <Button
          size="small"
          variant="outlined"
          onClick={() => onChange({ place: place ? null : { lat_deg: 0, lon_deg: 0, bearing_deg: 0 } })}
        >
          {place ? say`Forget where it is` : say`Say where it is`}
        </Button>
      </Stack>
      {place && (
        <Stack direction="row" useFlexGap spacing={2} sx={{ flexWrap: 'wrap' }}>
          {(['lat_deg', 'lon_deg', 'bearing_deg'] as const).map((field) => (
            <TextField
              key={field}
              label={field === 'lat_deg' ? say`Latitude` : field === 'lon_deg' ? say`Longitude` : say`First base line leads to (°)`}
              type="number"
              defaultValue={place[field]}
              slotProps={{ htmlInput: { step: 'any' } }}
              onBlur={(e) => {
                const value = Number(e.target.value)
                const [min, max] = field === 'lat_deg' ? [-90, 90] : field === 'lon_deg' ? [-180, 180] : [0, 360]
                if (Number.isFinite(value)) onChange({ place: { ...place, [field]: within(value, min, max) } })
              }}
              sx={{ width: 170 }}
            />
          ))}
        </Stack>
      )}
    </Stack>
  )
}
