import { Box, Button, Stack, Typography } from '@mui/material'
import { type PointerEvent, type ReactNode, useEffect, useRef, useState } from 'react'
import { say } from '../../language/say.ts'
import { chosenLook } from '../../look/chosen.ts'
import { edges } from '../../look/scale.ts'
import { useThemeChoice } from '../../look/theme-choice.tsx'

/** Parts of a list that fill a page of the tablet each, in their order. */
export const pagesOf = <T,>(list: readonly T[], perPage = 6): T[][] =>
  Array.from({ length: Math.ceil(list.length / perPage) }, (_, k) => list.slice(perPage * k, perPage * (k + 1)))

/** A page for a tablet on the knee: all of the screen, nothing to scroll. */
export const TabletPage = ({ children, label }: { children: ReactNode; label?: string }) => (
  <Box
    component="main"
    aria-label={label}
    sx={{ height: '100dvh', overflow: 'hidden', px: { xs: 4, sm: 5 }, py: 3, display: 'flex', flexDirection: 'column', gap: 3 }}
  >
    {children}
  </Box>
)

/** A touch target. `number`: the key that does the same; `tone`: shown by positions, or chosen. */
export type Tile = {
  id: string
  words: string
  under?: string | undefined
  number?: number
  tone?: 'plain' | 'shown' | 'chosen' | 'quiet'
  onTap: () => void
}

const toneLook = {
  plain: { variant: 'contained', color: 'secondary', sx: {} },
  shown: { variant: 'contained', color: 'primary', sx: {} },
  chosen: { variant: 'outlined', color: 'primary', sx: chosenLook('below') },
  quiet: { variant: 'outlined', color: 'secondary', sx: { border: 'strong' } },
  // In a dark cockpit a third of the screen in near white blinds.
  plainAtNight: { variant: 'outlined', color: 'secondary', sx: { border: 'note' } },
} as const

/** Big targets in a grid; a touch is answered by the target itself at once. */
export const Tiles = ({ tiles, columns = 3, least: min = 76 }: { tiles: readonly Tile[]; columns?: 2 | 3; least?: number }) => (
  <Box
    sx={{
      display: 'grid',
      gridTemplateColumns: { xs: '1fr 1fr', md: columns === 3 ? '1fr 1fr 1fr' : '1fr 1fr' },
      gridAutoRows: `minmax(${min}px, 1fr)`,
      gap: 3,
      flex: 1,
      minHeight: 0,
    }}
  >
    {tiles.map((tile) => (
      <TouchTile key={tile.id} tile={tile} least={min} />
    ))}
  </Box>
)

/** Time that a touched target stays marked (ms). */
const MARKED_MS = 500

const TouchTile = ({ tile, least: min }: { tile: Tile; least: number }) => {
  const [touched, setTouched] = useState(0)
  useEffect(() => {
    if (!touched) return
    const timer = setTimeout(() => setTouched(0), MARKED_MS)
    return () => clearTimeout(timer)
  }, [touched])
  // What was on the target when the finger came down is what was meant, also if something else stands there when it goes up.
  const meant = useRef<Tile | null>(null)
  const { dark } = useThemeChoice()
  const tone = tile.tone ?? 'plain'
  const look = toneLook[dark && tone === 'plain' ? 'plainAtNight' : tone]
  return (
    <Button
      variant={look.variant}
      color={look.color}
      data-touched={touched > 0}
      onPointerDown={() => {
        meant.current = tile
      }}
      onClick={() => {
        setTouched((n) => n + 1)
        const { onTap } = meant.current ?? tile
        meant.current = null
        onTap()
      }}
      sx={{
        fontSize: 'size.lead',
        '@media (min-height: 1000px)': { fontSize: 'size.head' },
        lineHeight: 1.08,
        justifyContent: 'flex-start',
        textAlign: 'left',
        gap: 3,
        minHeight: min,
        ...look.sx,
        ...(touched ? { boxShadow: `inset 0 0 0 ${edges.pressed}px var(--accent)` } : {}),
      }}
    >
      {tile.number !== undefined && (
        <Box component="span" className="figures" aria-hidden="true" sx={{ fontSize: 'size.note' }}>
          {tile.number}
        </Box>
      )}
      <Box component="span">
        {tile.words}
        {tile.under && (
          <Box component="span" sx={{ display: 'block', fontSize: 'size.note', fontWeight: 500, mt: 1 }}>
            {tile.under}
          </Box>
        )}
      </Box>
    </Button>
  )
}

/** The last entry, always in sight, and its undo. */
export const LastLine = ({
  words,
  onUndo,
  back,
}: {
  words: string
  onUndo: (() => void) | null
  /** A way back to another page, which takes nothing back. */
  back?: { words: string; onBack: () => void } | undefined
}) => (
  <Stack direction="row" spacing={4} sx={{ alignItems: 'center', minHeight: 'var(--target)' }}>
    {back && (
      <Button variant="outlined" onClick={back.onBack} sx={{ border: 'strong', whiteSpace: 'nowrap' }}>
        {back.words}
      </Button>
    )}
    <Typography sx={{ fontSize: 'size.note', flex: 1 }} role="status" aria-label={say`Last logged`}>
      {words}
    </Typography>
    {onUndo && (
      <Button variant="outlined" onClick={onUndo} sx={{ minWidth: 190, border: 'strong' }}>
        {say`Undo`}
      </Button>
    )}
  </Stack>
)

/** Keys of a screen on the knee: `onKey` says whether a key meant something. Held keys and those of the browser mean nothing. */
export const useTabletKeys = (onKey: (key: string) => boolean): void =>
  useEffect(() => {
    const listen = (event: KeyboardEvent): void => {
      if (!event.repeat && !event.ctrlKey && !event.metaKey && onKey(event.key)) event.preventDefault()
    }
    window.addEventListener('keydown', listen)
    return () => window.removeEventListener('keydown', listen)
  })

/** A finger that moved this far sideways turns the page (px). */
const SWIPE_PX = 70

/**
 * Pages of targets, turned by a swipe anywhere on them or by ← and →, so that turning takes no target of its own. A swipe
 * that began on a target does not touch it.
 */
export const TurnedPages = ({ pages }: { pages: readonly { name: string; label: string; body: ReactNode }[] }) => {
  const [at, setAt] = useState(0)
  const began = useRef<{ x: number; y: number } | null>(null)
  const swiped = useRef(false)
  const turn = (by: number): void => setAt((now) => (now + by + pages.length) % pages.length)
  useEffect(() => {
    const onKey = (event: KeyboardEvent): void => {
      if (event.key !== 'ArrowRight' && event.key !== 'ArrowLeft') return
      turn(event.key === 'ArrowRight' ? 1 : -1)
      event.preventDefault()
    }
    window.addEventListener('keydown', onKey)
    return () => window.removeEventListener('keydown', onKey)
  })
  const onDown = (event: PointerEvent): void => {
    began.current = { x: event.clientX, y: event.clientY }
    swiped.current = false
  }
  const onUp = (event: PointerEvent): void => {
    const from = began.current
    began.current = null
    if (!from) return
    const [dx, dy] = [event.clientX - from.x, event.clientY - from.y]
    if (Math.abs(dx) < SWIPE_PX || Math.abs(dx) < 1.5 * Math.abs(dy)) return
    swiped.current = true
    turn(dx < 0 ? 1 : -1)
  }
  const page = pages[Math.min(at, pages.length - 1)]
  return (
    <Box
      component="section"
      aria-label={page.name}
      sx={{ flex: 1, minHeight: 0, display: 'flex', flexDirection: 'column', touchAction: 'none', userSelect: 'none' }}
      onPointerDown={onDown}
      onPointerUp={onUp}
      onClickCapture={(event) => {
        if (!swiped.current) return
        swiped.current = false
        event.stopPropagation()
      }}
    >
      <Stack direction="row" spacing={4} sx={{ alignItems: 'baseline', mb: 2 }}>
        <Typography sx={{ fontSize: 'size.note', fontWeight: 640, flex: 1 }}>{page.label}</Typography>
        {pages.length > 1 && (
          <Typography component="div" sx={{ fontSize: 'size.note' }}>
            {pages.map((p, i) => (
              <Box
                key={p.name}
                component="span"
                sx={{
                  ml: 3,
                  fontWeight: i === at ? 700 : 400,
                  color: 'text.primary',
                  borderBottom: i === at ? 'chosen' : 0,
                  borderColor: 'primary.main',
                }}
              >
                {p.name}
              </Box>
            ))}
            <Box component="span" sx={{ ml: 5 }}>
              {say`swipe or ← →`}
            </Box>
          </Typography>
        )}
      </Stack>
      {page.body}
    </Box>
  )
}
