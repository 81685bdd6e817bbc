'use client'
import { QueryClient, QueryClientProvider, useQueryClient } from '@tanstack/react-query'
import { NuqsAdapter } from 'nuqs/adapters/next/app'
import { useEffect, useState } from 'react'
import { Toaster } from 'sonner'
import { tellOf } from './changes'

/** A view reads again at most this often, however much changes. */
const READ_AGAIN_MS = 700

const matches = (topics: unknown, changed: Set<string>) =>
  Array.isArray(topics) && topics.some((topic: string) => changed.has(topic) || changed.has('*:') || [...changed].some((change) => change.startsWith(`${topic}:`)))

/** Server-Sent Events in, queries read again. The browser reconnects by itself; then everything is read once. */
function LiveUpdates() {
  const client = useQueryClient()
  useEffect(() => {
    const source = new EventSource('/api/live')
    const changed = new Set<string>()
    let timer: ReturnType<typeof setTimeout> | undefined
    let opened = false
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
    source.onmessage = ({ data }) => {
      const changes = JSON.parse(String(data)) as string[]
      tellOf(changes)
      note(changes)
    }
    source.onopen = () => {
      if (opened) note(['*:'])
      opened = true
    }
    return () => {
      source.close()
      clearTimeout(timer)
    }
  }, [client])
  return null
}

export function Providers({ children, live }: { children: React.ReactNode; live: boolean }) {
  const [client] = useState(() => new QueryClient({ defaultOptions: { queries: { staleTime: 30_000, retry: 1, refetchOnWindowFocus: true } } }))
  return (
    <NuqsAdapter>
      <QueryClientProvider client={client}>
        {live && <LiveUpdates />}
        {children}
        {/* Over the facts of the title line: what one acts on stands at the foot and at the right. */}
        <Toaster position="top-center" offset={{ top: 53 }} toastOptions={{ className: '!bg-raised !text-ink !border-line !rounded-[6px] !font-sans' }} />
      </QueryClientProvider>
    </NuqsAdapter>
  )
}
