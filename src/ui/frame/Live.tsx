'use client'
import { QueryClient, QueryClientProvider, useQueryClient } from '@tanstack/react-query'
import { NuqsAdapter } from 'nuqs/adapters/next/app'
import { useEffect, useState } from 'react'
import { Toaster } from 'sonner'
import { api, leaveToSignIn } from '../api'
import { tellOf } from './changes'
import { openLive } from './live-source'

/** A view reads again at most this often, however much changes. */
const READ_AGAIN_MS = 700

const matches = (topics: unknown, changed: Set<string>) =>
  Array.isArray(topics) &&
  topics.some(
    (topic: string) =>
      changed.has(topic) ||
      changed.has('*:') ||
      [...changed].some((change) => change.startsWith(`${topic}:`)),
  )

/** Server-Sent Events in, queries read again; after a break everything is read once. */
function LiveUpdates() {
  const client = useQueryClient()
  useEffect(() => {
    const changed = new Set<string>()
    let timer: ReturnType<typeof setTimeout> | undefined
    const flush = () => {
      timer = undefined
      const now = new Set(changed)
      changed.clear()
      void client.invalidateQueries({ predicate: ({ meta }) => matches(meta?.topics, now) })
    }
    const note = (changes: string[]) => {
      changes.forEach((change) => changed.add(change))
      timer ??= setTimeout(flush, READ_AGAIN_MS)
    }
    const close = openLive('/api/live', {
      changed: (changes) => {
        tellOf(changes)
        note(changes)
      },
      back: () => note(['*:']),
      signedOut: leaveToSignIn,
      // why, only an answer of the API tells: it leads to the sign-in where nobody is signed in any more
      refused: () => void api('/api/you').catch(() => undefined),
    })
    return () => {
      close()
      clearTimeout(timer)
    }
  }, [client])
  return null
}

export function Providers({ children, live }: { children: React.ReactNode; live: boolean }) {
  const [client] = useState(
    () =>
      new QueryClient({
        defaultOptions: { queries: { staleTime: 30_000, retry: 1, refetchOnWindowFocus: true } },
      }),
  )
  return (
    <NuqsAdapter>
      <QueryClientProvider client={client}>
        {live && <LiveUpdates />}
        {children}
        {/* Over the facts of the title line: what one acts on stands at the foot and at the right. */}
        <Toaster
          position="top-center"
          offset={{ top: 53 }}
          toastOptions={{ className: '!bg-raised !text-ink !border-line !rounded-[6px] !font-sans' }}
        />
      </QueryClientProvider>
    </NuqsAdapter>
  )
}
