import { type PointerEvent, useState } from 'react'
import type { ScreenPlace } from '../use-gestures.ts'

/** A place on the ground (m, y north). */
export type GroundPlace = { x_m: number; y_m: number }

type Holding<T> = {
  groundAt: (at: ScreenPlace) => GroundPlace | null
  /** The press was taken by what is held. */
  onTaken: () => void
  /** It is held over a place. */
  onHeld?: ((what: T, at: GroundPlace) => void) | undefined
  /** It is let go, at a place or nowhere. */
  onLetGo?: ((what: T, at: GroundPlace | null) => void) | undefined
}

/** Things drawn on the ground that can be dragged: what is held and where, and what each needs to be taken hold of. */
export const useHeld = <T>({ groundAt, onTaken, onHeld, onLetGo }: Holding<T>) => {
  const [held, setHeld] = useState<{ what: T; at: GroundPlace } | null>(null)
  const handlersOf = (what: T) => ({
    onPointerDown: (event: PointerEvent): void => {
      const at = groundAt(event)
      if (!at) return
      // The ground under what is held must not be dragged along, and it follows outside of its own shape.
      event.stopPropagation()
      event.currentTarget.setPointerCapture(event.pointerId)
      onTaken()
      setHeld({ what, at })
    },
    onPointerMove: (event: PointerEvent): void => {
      const at = held && groundAt(event)
      if (!at) return
      setHeld({ what: held.what, at })
      onHeld?.(held.what, at)
    },
    onPointerUp: (event: PointerEvent): void => {
      if (!held) return
      event.stopPropagation()
      setHeld(null)
      onLetGo?.(held.what, held.at)
    },
    onPointerCancel: (): void => {
      if (held) onLetGo?.(held.what, null)
      setHeld(null)
    },
  })
  return { held, handlersOf }
}
