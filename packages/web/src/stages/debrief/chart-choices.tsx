import { Box, Button, Stack, Typography } from '@mui/material'
import type { Corner } from '@ochote/core'
import type { ReactNode } from 'react'
import { say } from '../../language/say.ts'
import { PickField } from '../../shared/pick-field.tsx'
import { WordHelp } from '../../shared/word-help.tsx'
import { type Panel, panels } from './trace-option.ts'
import type { ComparedWith, useComparison } from './use-comparison.ts'

const panelWords: Record<Panel, string> = {
  speed: say`Speed`,
  difference: say`Time`,
  pedals: say`Pedals`,
  wheel: say`Steering`,
  offset: say`Road position`,
  grip: say`Grip`,
  gear: say`Gear`,
}

/** A choice as the value of a list. */
const keyOf = (comparedWith: ComparedWith): string => JSON.stringify(comparedWith)

type Props = {
  lap: number
  options: ReturnType<typeof useComparison>['options']
  comparedWith: ComparedWith
  onCompare: (comparedWith: ComparedWith) => void
  /** Holds the whole log against what the lap is compared with; absent where that cannot be. */
  onJudge?: () => void
  shown: readonly Panel[]
  onShow: (shown: readonly Panel[]) => void
  everyLap: boolean
  onEveryLap: (everyLap: boolean) => void
  /** The chosen corner, and whether the charts show it alone. */
  corner: Corner | undefined
  near: boolean
  onNear: (near: boolean) => void
}

/** Choices of the charts' panels, and of the lap to compare with. */
export const ChartChoices = ({
  lap,
  options,
  comparedWith,
  onCompare,
  onJudge,
  shown,
  onShow,
  everyLap,
  onEveryLap,
  corner,
  near,
  onNear,
}: Props) => {
  const toggle = (panel: Panel): void => {
    const next = panels.filter((other) => (other === panel ? !shown.includes(other) : shown.includes(other)))
    if (next.length > 0) onShow(next)
  }
  return (
    <Stack
      direction="row"
      spacing={2}
      useFlexGap
      role="group"
      aria-label={say`Charts`}
      sx={{ flexWrap: 'wrap', mt: 3, mb: 2, alignItems: 'flex-end' }}
    >
      <Box sx={{ mr: 3 }}>
        <PickField
          label={say`Compare lap ${lap} with`}
          width={300}
          value={keyOf(comparedWith)}
          onPick={(key) => onCompare(options.find((o) => keyOf(o.comparedWith) === key)?.comparedWith ?? { kind: 'plan' })}
          options={options.map((o) => [keyOf(o.comparedWith), o.words])}
        />
      </Box>
      {onJudge && (
        <Button size="small" variant="text" onClick={onJudge} sx={{ mr: 2 }}>
          {say`Judge the log against it`}
        </Button>
      )}
      {panels.map((panel) => (
        <Toggle key={panel} on={shown.includes(panel)} onToggle={() => toggle(panel)}>
          {panelWords[panel]}
        </Toggle>
      ))}
      {shown.includes('offset') && <WordHelp word="road-position" />}
      <Toggle on={everyLap} onToggle={() => onEveryLap(!everyLap)}>
        {say`All laps`}
      </Toggle>
      {corner ? (
        <Toggle on={near} onToggle={() => onNear(!near)}>
          {say`${corner.name} only`}
        </Toggle>
      ) : (
        <Typography variant="note" color="text.secondary" sx={{ alignSelf: 'center' }}>
          {say`Choose a corner on the lap to see it alone.`}
        </Typography>
      )}
    </Stack>
  )
}

/** A button that is on or off. */
export const Toggle = ({
  on,
  onToggle,
  disabled = false,
  children,
}: {
  on: boolean
  onToggle: () => void
  disabled?: boolean
  children: ReactNode
}) => (
  <Button size="small" variant="outlined" aria-pressed={on} disabled={disabled} onClick={onToggle}>
    {children}
  </Button>
)
