import { type RefObject, useEffect, useRef, useState } from 'react'

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
