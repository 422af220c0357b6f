import { useEffect } from 'react'

/** Ctrl or ⌘ with Z takes a change back, with shift it does it again; not while somebody types. */
export const useUndoKeys = (undo: (() => void) | null, redo: (() => void) | null): void => {
  useEffect(() => {
    const onKey = (event: KeyboardEvent): void => {
      if (!(event.ctrlKey || event.metaKey) || event.key.toLowerCase() !== 'z') return
      if (event.target instanceof HTMLElement && event.target.matches('input, textarea')) return
      const action = event.shiftKey ? redo : undo
      if (!action) return
      event.preventDefault()
      action()
    }
    window.addEventListener('keydown', onKey)
    return () => window.removeEventListener('keydown', onKey)
  })
}
