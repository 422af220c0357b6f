import { Box } from '@mui/material'
import { At } from '../../look/theme-choice.tsx'
import { LapSelectionProvider } from '../../shared/selection/lap-selection.tsx'
import { useSize } from '../../shared/use-size.ts'
import type { BriefPage } from './brief-pages.ts'
import { PageView } from './page-view.tsx'
import { InPreview } from './presenting.ts'
import type { BriefingState } from './use-briefing.ts'

const WIDTH = 1280
const HEIGHT = 800

/** A page as the projector shows it, made as small as its place. */
export const SmallPage = ({ page, state }: { page: BriefPage; state: BriefingState }) => {
  const [frame, { width }] = useSize<HTMLDivElement>()
  return (
    <Box
      ref={frame}
      aria-hidden="true"
      sx={{
        maxWidth: WIDTH,
        aspectRatio: `${WIDTH} / ${HEIGHT}`,
        overflow: 'hidden',
        border: 'hair',
        borderColor: 'divider',
        pointerEvents: 'none',
      }}
    >
      <Box sx={{ width: WIDTH, height: HEIGHT, transform: `scale(${width / WIDTH})`, transformOrigin: '0 0', px: 7, py: 6 }} inert>
        <At distance="projector">
          <LapSelectionProvider key={page.id} initialCornerId={page.kind === 'corner' ? page.corner.id : null}>
            <InPreview value={true}>
              <PageView page={page} state={state} />
            </InPreview>
          </LapSelectionProvider>
        </At>
      </Box>
    </Box>
  )
}
