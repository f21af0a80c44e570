import { useEffect, useRef, useState } from 'react'

/** The width there is for a drawing, px: it is drawn at that size, so that its figures keep theirs. */
export function useRoom(least: number, most: number) {
  const [room, setRoom] = useState((least + most) / 2)
  const frameRef = useRef<HTMLDivElement>(null)
  useEffect(() => {
    const watch = new ResizeObserver(([entry]) => setRoom(Math.min(Math.max(entry!.contentRect.width, least), most)))
    watch.observe(frameRef.current!)
    return () => watch.disconnect()
  }, [least, most])
  return { room, frameRef }
}
