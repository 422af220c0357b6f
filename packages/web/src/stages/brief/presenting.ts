import { createContext, useCallback, useContext, useEffect, useLayoutEffect, useRef, useState } from 'react'

/** Messages between the presenter's window and the projector's; `corner`: the one that the sighting lap has come to. */
type Message = { page: number } | { ask: true } | { corner: string }
const CHANNEL = 'ochote.briefing'

/** True within a small picture of a page that is shown elsewhere: it hears no keys and tells nothing. */
export const InPreview = createContext(false)

/** Tells the other windows which corner the sighting lap has come to; null tells nothing. */
export const useTellCorner = (corner: string | null): void => {
  const inPreview = useContext(InPreview)
  useEffect(() => {
    if (inPreview || corner === null) return
    const channel = new BroadcastChannel(CHANNEL)
    channel.postMessage({ corner } satisfies Message)
    return () => channel.close()
  }, [corner, inPreview])
}

/** The page that is shown (from 1), the same in every window of this device, and the corner that its sighting lap has come to. */
export const usePresented = (start: number): { page: number; corner: string | null; show: (page: number) => void } => {
  const [page, setPage] = useState(start)
  const [corner, setCorner] = useState<string | null>(null)
  const channel = useRef<BroadcastChannel | null>(null)
  const now = useRef(page)
  now.current = page
  useEffect(() => {
    const opened = new BroadcastChannel(CHANNEL)
    channel.current = opened
    opened.onmessage = ({ data }: MessageEvent<Message>) => {
      if ('ask' in data) opened.postMessage({ page: now.current } satisfies Message)
      else if ('corner' in data) setCorner(data.corner)
      else setPage(data.page)
    }
    return () => opened.close()
  }, [])
  const show = useCallback((next: number): void => {
    setPage(next)
    channel.current?.postMessage({ page: next } satisfies Message)
  }, [])
  return { page, corner, show }
}

/** After the last digit a number counts as complete (ms). */
const TYPED_MS = 900

/**
 * Digits typed in a row, as one number, once nothing follows for a moment or Enter is pressed. `alone`: they are heard before anybody
 * else who listens for digits, and by nobody else.
 */
export const useTypedNumber = (onNumber: (number: number) => void, alone = false): string => {
  const [typed, setTyped] = useState('')
  const tell = useRef(onNumber)
  tell.current = onNumber
  useLayoutEffect(() => {
    const onKey = (event: KeyboardEvent): void => {
      if (event.target instanceof HTMLElement && event.target.matches('input, textarea, select')) return
      if (/^\d$/.test(event.key) && !event.ctrlKey && !event.metaKey && !event.altKey) {
        setTyped((t) => (t + event.key).slice(-2))
        event.preventDefault()
        if (alone) event.stopImmediatePropagation()
      }
    }
    window.addEventListener('keydown', onKey, { capture: alone })
    return () => window.removeEventListener('keydown', onKey, { capture: alone })
  }, [alone])
  useEffect(() => {
    if (typed === '') return
    const done = (): void => {
      setTyped('')
      tell.current(Number(typed))
    }
    const onEnter = (event: KeyboardEvent): void => {
      if (event.key === 'Enter') done()
    }
    const timer = setTimeout(done, TYPED_MS)
    window.addEventListener('keydown', onEnter)
    return () => {
      clearTimeout(timer)
      window.removeEventListener('keydown', onEnter)
    }
  }, [typed])
  return typed
}

/** Keys that turn pages: the next page's number, or null for a key that turns none. */
export const turned = (key: string, page: number, last: number): number | null => {
  if (key === 'ArrowRight' || key === 'ArrowDown' || key === 'PageDown' || key === ' ') return Math.min(last, page + 1)
  if (key === 'ArrowLeft' || key === 'ArrowUp' || key === 'PageUp') return Math.max(1, page - 1)
  if (key === 'Home') return 1
  if (key === 'End') return last
  return null
}
