import { useEffect, useRef, useState } from 'react'

/** The width of an element in pixels, as it changes. @param usual until it is measured */
export function useWidth<E extends HTMLElement>(usual: number): [ref: React.RefObject<E | null>, px: number] {
  const ref = useRef<E>(null)
  const [px, setPx] = useState(usual)
  useEffect(() => {
    if (!ref.current) return
    const measure = new ResizeObserver(([entry]) => entry && setPx(entry.contentRect.width))
    measure.observe(ref.current)
    return () => measure.disconnect()
  }, [])
  return [ref, px]
}
