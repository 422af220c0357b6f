import { type RefObject, useEffect, useRef, useState } from 'react'

/** A frame whose content is drawn to its size, which must not keep it from getting narrower. */
export const measuredFrame = { width: '100%', contain: 'inline-size' } as const

/** The size of an element in pixels, kept up to date. */
export const useSize = <E extends Element>(): [RefObject<E | null>, { width: number; height: number }] => {
  const ref = useRef<E>(null)
  const [size, setSize] = useState({ width: 0, height: 0 })
  useEffect(() => {
    const element = ref.current
    if (!element) return
    const observer = new ResizeObserver(([entry]) => {
      if (entry) setSize({ width: entry.contentRect.width, height: entry.contentRect.height })
    })
    observer.observe(element)
    return () => observer.disconnect()
  }, [])
  return [ref, size]
}
