import type { Plan } from '@ochote/core'
import { useEffect } from 'react'
import { isTyping } from '../typing.ts'
import { useLapSelection } from './lap-selection.tsx'
import { stepCorner, stepMark } from './stepping.ts'

/** ← → step through marks, ⇧← ⇧→ through corners, Home is the start line, Escape lets go of the corner. */
export const useLapKeys = (plan: Plan | undefined): void => {
  const { cornerId, station_m, selectCorner, moveTo } = useLapSelection()
  useEffect(() => {
    if (!plan) return
    const onKey = (event: KeyboardEvent): void => {
      if (isTyping(event.target) || event.ctrlKey || event.metaKey || event.altKey) return
      const direction = event.key === 'ArrowRight' ? 1 : event.key === 'ArrowLeft' ? -1 : null
      if (direction !== null) {
        const step = event.shiftKey ? stepCorner(plan.corners, cornerId, direction) : stepMark(plan.marks, station_m, direction)
        if (step) {
          moveTo(step.station_m)
          selectCorner(step.cornerId)
        }
      } else if (event.key === 'Home') {
        moveTo(0)
        selectCorner(null)
      } else if (event.key === 'Escape') selectCorner(null)
      else return
      event.preventDefault()
    }
    window.addEventListener('keydown', onKey)
    return () => window.removeEventListener('keydown', onKey)
  }, [plan, cornerId, station_m, selectCorner, moveTo])
}
