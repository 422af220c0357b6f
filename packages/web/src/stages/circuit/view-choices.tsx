import { Box, Button, Stack, ToggleButton, ToggleButtonGroup } from '@mui/material'
import type { Plan } from '@ochote/core'
import { say } from '../../language/say.ts'
import { type StripName, stripNames, stripWords } from './layers.ts'
import { LinesOver } from './lines-over.tsx'
import type { useCircuitLayers } from './use-circuit-layers.ts'

/** Panels beside the ground view. */
export type Panel = 'corners' | 'ground' | 'compare'

const panelWords: Record<Panel, string> = { corners: say`Corners`, ground: say`Ground and hazards`, compare: say`Compare` }

type Props = {
  plan: Plan
  choices: ReturnType<typeof useCircuitLayers>['choices']
  panel: Panel
  onPanel: (panel: Panel) => void
  /** Whether the survey is being corrected. */
  correcting: boolean
  onCorrect: (correcting: boolean) => void
}

/** Choices of what is drawn, and of the panel beside it. */
export const ViewChoices = ({ plan, choices, panel, onPanel, correcting, onCorrect }: Props) => {
  const { strips, setStrips, withGround, setWithGround, lines, setLines, byMethod } = choices
  return (
    <Stack direction="row" useFlexGap spacing={2} sx={{ alignItems: 'center', flexWrap: 'wrap' }}>
      <ToggleButtonGroup
        size="small"
        aria-label={say`Strips under the lap`}
        value={strips}
        onChange={(_, next: StripName[]) => setStrips(next)}
        sx={{ flexWrap: 'wrap' }}
      >
        {stripNames.map((name) => (
          <ToggleButton key={name} value={name} sx={{ py: 0 }}>
            {stripWords[name]}
          </ToggleButton>
        ))}
      </ToggleButtonGroup>
      <ToggleButton size="small" value="ground" selected={withGround} onChange={() => setWithGround(!withGround)} sx={{ py: 0 }}>
        {say`Ground`}
      </ToggleButton>
      <LinesOver plan={plan} plans={byMethod} chosen={lines} onChoose={setLines} />
      <Box sx={{ flex: 1 }} />
      <Button size="small" variant="text" aria-expanded={correcting} onClick={() => onCorrect(!correcting)}>
        {correcting ? say`Close the correction` : say`Correct the survey`}
      </Button>
      <ToggleButtonGroup
        size="small"
        exclusive
        aria-label={say`Beside the ground view`}
        value={panel}
        onChange={(_, next: Panel | null) => next && onPanel(next)}
      >
        {(Object.keys(panelWords) as Panel[]).map((name) => (
          <ToggleButton key={name} value={name} sx={{ py: 0 }}>
            {panelWords[name]}
          </ToggleButton>
        ))}
      </ToggleButtonGroup>
    </Stack>
  )
}
