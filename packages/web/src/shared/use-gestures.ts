import { type PointerEvent, type RefObject, useEffect, useRef } from 'react'

/** A press that moves further than this is a drag (px). */
const DRAG_PX = 4
const ZOOM_STEP = 1.25

/** A place on the screen, as pointer and wheel events give it. */
export type ScreenPlace = { clientX: number; clientY: number }

/** A drawing's reactions to gestures. */
export type GestureActions = {
  /** The wheel was turned over a place: everything there becomes larger (above 1) or smaller by the factor. */
  onZoom: (at: ScreenPlace, factor: number) => void
  /** Dragged on by so many pixels. */
  onPan: (dx: number, dy: number) => void
  /** Pressed and let go without moving. */
  onTap: (at: ScreenPlace) => void
}

/** Wheel, drag and tap on a drawing of the road. The wheel never scrolls the page. */
export const useGestures = (ref: RefObject<HTMLElement | null>, actions: GestureActions) => {
  const latest = useRef(actions)
  latest.current = actions
  const press = useRef<{ x: number; y: number; dragged: boolean } | null>(null)
  useEffect(() => {
    const node = ref.current
    if (!node) return
    // React listens passively to the wheel, which could not keep the page from scrolling.
    const onWheel = (event: WheelEvent): void => {
      event.preventDefault()
      latest.current.onZoom(event, event.deltaY > 0 ? 1 / ZOOM_STEP : ZOOM_STEP)
    }
    node.addEventListener('wheel', onWheel, { passive: false })
    return () => node.removeEventListener('wheel', onWheel)
  }, [ref])
  return {
    isDragged: (): boolean => press.current?.dragged ?? false,
    /** The press belongs to something drawn on top: neither a drag nor a tap of the drawing. */
    cancel: (): void => {
      press.current = null
    },
    handlers: {
      onPointerDown: (event: PointerEvent): void => {
        press.current = { x: event.clientX, y: event.clientY, dragged: false }
      },
      onPointerMove: (event: PointerEvent): void => {
        const from = press.current
        if (!from || event.buttons === 0) return
        const [dx, dy] = [event.clientX - from.x, event.clientY - from.y]
        if (!from.dragged && Math.hypot(dx, dy) <= DRAG_PX) return
        press.current = { x: event.clientX, y: event.clientY, dragged: true }
        latest.current.onPan(dx, dy)
      },
      onPointerUp: (event: PointerEvent): void => {
        const from = press.current
        press.current = null
        if (from && !from.dragged) latest.current.onTap(event)
      },
      onPointerLeave: (): void => {
        press.current = null
      },
    },
  }
}
