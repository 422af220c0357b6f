import { Box } from '@mui/material'
import { useVirtualizer } from '@tanstack/react-virtual'
import { type ReactNode, useRef } from 'react'
import { say } from '../language/say.ts'

/** Rows drawn beyond both ends of what is seen. */
const BEYOND = 12

/**
 * A long list in a frame that scrolls, of which only the rows that are seen are drawn. `rowHeight`: of a usual row (px); one whose words
 * need more lines is measured. `label`: for screen readers; `head` stays at the top.
 */
export const VirtualRows = <T,>({
  label,
  rows,
  keyOf,
  rowHeight,
  height,
  minWidth = 0,
  head,
  row,
}: {
  label: string
  rows: readonly T[]
  keyOf: (one: T) => string
  rowHeight: number
  height: string
  /** Narrower than this (px) the frame scrolls sideways. */
  minWidth?: number
  head?: ReactNode
  row: (one: T) => ReactNode
}) => {
  const frame = useRef<HTMLDivElement>(null)
  const virtual = useVirtualizer({
    count: rows.length,
    getScrollElement: () => frame.current,
    estimateSize: () => rowHeight,
    overscan: BEYOND,
    getItemKey: (index) => keyOf(rows[index]),
    // A frame that is not laid out yet, as in a test, still shows its first rows.
    initialRect: { width: 800, height: 600 },
  })
  const drawn = virtual.getVirtualItems()
  return (
    <Box ref={frame} role="region" aria-label={say`${label}, scrolls`} tabIndex={0} sx={{ overflow: 'auto', maxHeight: height }}>
      {head && (
        <Box
          sx={{
            position: 'sticky',
            top: 0,
            zIndex: 3,
            minWidth,
            backgroundColor: 'background.default',
            borderBottom: 'hair',
            borderColor: 'text.primary',
          }}
        >
          {head}
        </Box>
      )}
      <Box role="list" aria-label={label} sx={{ position: 'relative', height: virtual.getTotalSize(), minWidth }}>
        {/* Drawn rows follow each other: one that has just grown pushes the next ones down, measured or not. */}
        <Box
          role="presentation"
          sx={{ position: 'absolute', top: 0, left: 0, right: 0 }}
          style={{ transform: `translateY(${drawn[0]?.start ?? 0}px)` }}
        >
          {drawn.map(({ key, index }) => (
            <Box
              key={key}
              role="listitem"
              aria-setsize={rows.length}
              aria-posinset={index + 1}
              ref={virtual.measureElement}
              data-index={index}
              sx={{ minHeight: rowHeight }}
            >
              {row(rows[index])}
            </Box>
          ))}
        </Box>
      </Box>
    </Box>
  )
}
