'use client'
import { useRouter as useFrameworkRouter } from 'next/navigation'
import { createContext, useContext, useMemo, useTransition } from 'react'
import { createPortal } from 'react-dom'

type Router = ReturnType<typeof useFrameworkRouter>
type Open = (go: () => void) => void

const OpenContext = createContext<Open>((go) => go())

/** Around all views: says so when a page that `useRouter` was sent to takes its time. */
export function Opening({ children }: { children: React.ReactNode }) {
  const [isOpening, open] = useTransition()
  return (
    <OpenContext value={open}>
      {children}
      {isOpening && <OpeningLine />}
    </OpenContext>
  )
}

/** A line at the top of the window, after a moment. */
export const OpeningLine = () =>
  createPortal(<div role="progressbar" aria-label="Opening" className="opening" />, document.body)

/** The framework's router; a page that is pushed and takes its time is told by `Opening`. */
export function useRouter(): Router {
  const router = useFrameworkRouter()
  const open = useContext(OpenContext)
  return useMemo(
    () => ({ ...router, push: (...to: Parameters<Router['push']>) => open(() => router.push(...to)) }),
    [router, open],
  )
}
