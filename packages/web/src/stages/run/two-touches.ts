import { useEffect, useState } from 'react'

/** A second touch this soon is the same touch, and this late begins anew (ms). */
const SAME_TOUCH_MS = 400
const ARMED_MS = 4000

/** Does something on a second touch only, within a few seconds: one that slipped does nothing. */
export const useTwoTouches = (act: () => void): { armed: boolean; touch: () => void } => {
  const [since, setSince] = useState<number | null>(null)
  useEffect(() => {
    if (since === null) return
    const timer = setTimeout(() => setSince(null), ARMED_MS)
    return () => clearTimeout(timer)
  }, [since])
  const touch = (): void => {
    const now = performance.now()
    if (since === null) setSince(now)
    else if (now - since >= SAME_TOUCH_MS) {
      setSince(null)
      act()
    }
  }
  return { armed: since !== null, touch }
}
