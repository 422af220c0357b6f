import { type RefObject, useEffect, useState } from 'react'
import type { ScreenPlace } from '../use-gestures.ts'
import type { GroundBox } from './ground-geometry.ts'
import type { GroundPlace } from './use-held.ts'

/** Shift and zoom of the view from showing everything. */
type Moved = { zoom: number; x_m: number; y_m: number }
const unmoved: Moved = { zoom: 1, x_m: 0, y_m: 0 }
const MAX_ZOOM = 40

/** The part of the ground in view: its left top corner (m, y down), its size, and the metres of a pixel. */
type GroundFrame = { left: number; top: number; width: number; height: number; pixel: number }

/**
 * The part of the ground in view: all of a box at first, with room for names around it (px), then as it was zoomed and
 * moved. A new box begins with all of it in view.
 */
export const useGroundFrame = (
  ref: RefObject<HTMLElement | null>,
  size: { width: number; height: number },
  box: GroundBox,
  room_px: number,
) => {
  const [moved, setMoved] = useState(unmoved)
  useEffect(() => {
    if (box) setMoved(unmoved)
  }, [box])
  const fit = Math.min((size.width - 2 * room_px) / (box.maxX - box.minX), (size.height - 2 * room_px) / (box.maxY - box.minY)) || 1
  const pixel = 1 / (fit * moved.zoom)
  const [width, height] = [size.width * pixel, size.height * pixel]
  const left = (box.minX + box.maxX - width) / 2 + moved.x_m
  const top = -(box.minY + box.maxY) / 2 - height / 2 + moved.y_m
  const frame: GroundFrame = { left, top, width, height, pixel }
  const inView = (at: ScreenPlace): { x: number; y: number; rect: DOMRect } | null => {
    const rect = ref.current?.getBoundingClientRect()
    return rect ? { x: at.clientX - rect.left, y: at.clientY - rect.top, rect } : null
  }
  return {
    frame,
    groundAt: (at: ScreenPlace): GroundPlace | null => {
      const place = inView(at)
      return place && { x_m: left + place.x * pixel, y_m: -(top + place.y * pixel) }
    },
    /** Zooms so that the ground under the pointer stays there. */
    zoomAt: (at: ScreenPlace, factor: number): void => {
      const place = inView(at)
      if (!place) return
      const [fromX, fromY] = [place.x - place.rect.width / 2, place.y - place.rect.height / 2]
      setMoved((m) => {
        const zoom = Math.min(MAX_ZOOM, Math.max(1, m.zoom * factor))
        const keep = 1 / (fit * m.zoom) - 1 / (fit * zoom)
        return zoom === 1 ? unmoved : { zoom, x_m: m.x_m + fromX * keep, y_m: m.y_m + fromY * keep }
      })
    },
    pan: (dx: number, dy: number): void => setMoved((m) => ({ ...m, x_m: m.x_m - dx * pixel, y_m: m.y_m - dy * pixel })),
    reset: (): void => setMoved(unmoved),
  }
}
