/** What components find around them on a page: somebody signed in, an address, a server that answers. */
import { QueryClient, QueryClientProvider } from '@tanstack/react-query'
import { AppRouterContext } from 'next/dist/shared/lib/app-router-context.shared-runtime'
import { NuqsTestingAdapter } from 'nuqs/adapters/testing'
import { useState } from 'react'
import type { Role } from '@/core/view-models'
import { toolsOf, ToolsProvider } from '../frame/tools'
import './browser'

type Asked = { method: string; path: string; body?: unknown }
/** What the server answers, by method and path (`GET /api/you`): a value, or a function of what was sent. An
 * error of `refusal` is answered as such. */
export type Answers = Record<string, unknown>

class Refusal {
  constructor(
    readonly status: number,
    readonly body: { code: string; message: string; detail?: unknown },
  ) {}
}
export const refusal = (status: number, code: string, message: string, detail?: unknown) =>
  new Refusal(status, { code, message, detail })

/** Answers in place of the server from now on. What is not among the answers is refused with 404.
 * @returns all that was asked so far */
export function answerWith(answers: Answers): Asked[] {
  const asked: Asked[] = []
  globalThis.fetch = async (path, init) => {
    const { method = 'GET', body } = init ?? {}
    const sent: unknown = typeof body === 'string' ? JSON.parse(body) : undefined
    asked.push({ method, path: String(path), ...(sent !== undefined && { body: sent }) })
    const known = answers[`${method} ${String(path)}`]
    const answer: unknown = typeof known === 'function' ? await known(sent) : known
    if (answer instanceof Refusal) return responseOf(answer.status, answer.body)
    if (answer === undefined) return responseOf(404, { code: 'NOT_THERE', message: 'It is not there.' })
    return responseOf(200, answer)
  }
  return asked
}

// jsdom has no Response and no structuredClone.
const responseOf = (status: number, body: unknown) =>
  ({ status, ok: status < 400, json: async () => JSON.parse(JSON.stringify(body)) as unknown }) as Response

/** @param goTo is told where the page is sent
 * @param address what stands after the question mark */
export function Around({
  role = 'tester',
  goTo = () => {},
  address = '',
  children,
}: {
  role?: Role
  goTo?(path: string): void
  address?: string
  children: React.ReactNode
}) {
  const [client] = useState(() => new QueryClient({ defaultOptions: { queries: { retry: false } } }))
  const [tools] = useState(() => toolsOf({ name: 'Priya Castellan', username: 'priya', role }, () => {}))
  const [router] = useState(() => ({
    push: goTo,
    replace: goTo,
    refresh: () => {},
    back: () => {},
    forward: () => {},
    prefetch: () => {},
  }))
  return (
    <QueryClientProvider client={client}>
      <AppRouterContext value={router as never}>
        <NuqsTestingAdapter hasMemory searchParams={address}>
          <ToolsProvider value={tools}>{children}</ToolsProvider>
        </NuqsTestingAdapter>
      </AppRouterContext>
    </QueryClientProvider>
  )
}
