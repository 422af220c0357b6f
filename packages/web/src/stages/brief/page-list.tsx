import { Box, IconButton, Stack } from '@mui/material'
import { say, sayWhole } from '../../language/say.ts'
import { chosenLook } from '../../look/chosen.ts'
import { restOfWindow } from '../../look/columns.ts'
import type { BriefPage } from './brief-pages.ts'

const summary = (page: BriefPage): string => {
  switch (page.kind) {
    case 'lines':
    case 'circuit':
      return page.lines.map((line) => line.replace(/\.$/, '')).join('. ')
    case 'flags':
      return page.flags.map((f) => f.name).join(', ')
    case 'cones':
      return sayWhole(page.scheme.name)
    case 'sighting':
      return say`the lap at sighting pace, with cones, eyes and hazards as they come`
    case 'corner':
      return [page.line, page.cure, page.tip].filter(Boolean).join(' · ')
    case 'questions':
      return say`${page.asked.length} with answers`
    case 'links':
      return page.links.map((link) => link.name).join(', ')
    case 'own':
      return page.text.slice(0, 120)
  }
}

type Props = {
  /** All pages in order, hidden ones too. */
  listed: readonly BriefPage[]
  /** Those that are shown. */
  pages: readonly BriefPage[]
  id: string
  kept: boolean
  onChoose: (id: string) => void
  onMove: (from: number, by: -1 | 1) => void
}

/** The pages of the briefing in order, to choose one and to move it. */
export const PageList = ({ listed, pages, id, kept, onChoose, onMove }: Props) => (
  <Box
    component="ol"
    aria-label={say`Pages of the briefing`}
    tabIndex={0}
    sx={{ m: 0, p: 0, listStyle: 'none', maxHeight: { md: restOfWindow(260) }, overflow: 'auto' }}
  >
    {listed.map((page, i) => {
      const number = pages.findIndex((p) => p.id === page.id) + 1
      return (
        <PageRow
          key={page.id}
          page={page}
          number={number}
          chosen={page.id === id}
          onChoose={() => onChoose(page.id)}
          onEarlier={kept && i > 0 ? () => onMove(i, -1) : undefined}
          onLater={kept && i < listed.length - 1 ? () => onMove(i, 1) : undefined}
        />
      )
    })}
  </Box>
)

type RowProps = {
  page: BriefPage
  /** Its number; 0 for a hidden page. */
  number: number
  chosen: boolean
  onChoose: () => void
  onEarlier: (() => void) | undefined
  onLater: (() => void) | undefined
}

const PageRow = ({ page, number, chosen, onChoose, onEarlier, onLater }: RowProps) => (
  <Stack
    component="li"
    direction="row"
    sx={{
      alignItems: 'center',
      borderBottom: 'hair',
      borderColor: 'divider',
      ...(chosen ? chosenLook('left') : {}),
    }}
  >
    <Box
      component="button"
      type="button"
      aria-pressed={chosen}
      onClick={onChoose}
      sx={{
        flex: 1,
        minWidth: 0,
        display: 'grid',
        gridTemplateColumns: { xs: '26px minmax(0, 1fr)', md: '26px minmax(0, 1.2fr) minmax(0, 1fr)' },
        gap: 3,
        py: 2,
        px: 1,
        border: 0,
        background: 'none',
        color: 'inherit',
        font: 'inherit',
        textAlign: 'left',
        cursor: 'pointer',
        '&:hover': { backgroundColor: 'var(--verge)' },
      }}
    >
      <Box component="span" className="figures" sx={{ color: 'text.secondary', textAlign: 'right' }}>
        {number > 0 ? number : '–'}
      </Box>
      <Box
        component="span"
        sx={{
          fontWeight: 620,
          color: page.kind === 'lines' && page.tone === 'safety' ? 'error.main' : 'text.primary',
          textDecoration: number > 0 ? 'none' : 'line-through',
        }}
      >
        {page.title}
      </Box>
      <Box
        component="span"
        sx={{
          display: { xs: 'none', md: 'block' },
          color: 'text.secondary',
          overflow: 'hidden',
          textOverflow: 'ellipsis',
          whiteSpace: 'nowrap',
          fontSize: 'size.text',
        }}
      >
        {summary(page)}
      </Box>
    </Box>
    <IconButton size="small" disabled={!onEarlier} aria-label={say`${page.title} earlier`} onClick={onEarlier}>
      ↑
    </IconButton>
    <IconButton size="small" disabled={!onLater} aria-label={say`${page.title} later`} onClick={onLater}>
      ↓
    </IconButton>
  </Stack>
)
