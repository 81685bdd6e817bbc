'use client'
import { useQuery } from '@tanstack/react-query'
import { changedLately } from './frame/changes'

/** A refusal of the server, with the sentence a person reads. */
export class ApiProblem extends Error {
  constructor(
    readonly status: number,
    readonly code: string,
    message: string,
    readonly detail?: unknown,
  ) {
    super(message)
  }
}

/** Asks our own server; a body that is a file is sent as it is.
 * @throws {ApiProblem} with a whole sentence, also when there is no answer at all */
export async function api<T>(path: string, init?: { method: string; body?: unknown }): Promise<T> {
  const body = init?.body
  const isJson = body !== undefined && !(body instanceof Blob)
  const response = await fetch(path, {
    method: init?.method ?? 'GET',
    headers: isJson ? { 'content-type': 'application/json' } : {},
    ...(body !== undefined && { body: isJson ? JSON.stringify(body) : (body as Blob) }),
  }).catch(() => {
    throw new ApiProblem(
      0,
      'NO_ANSWER',
      'The server does not answer. What you see is from before; nothing was changed.',
    )
  })
  if (response.status === 204) return undefined as T
  const json: unknown = await response.json().catch(() => undefined)
  if (response.ok) return json as T
  const {
    code = 'UNKNOWN',
    message = `The server answers ${response.status}.`,
    detail,
  } = (json ?? {}) as { code?: string; message?: string; detail?: unknown }
  if (code === 'SIGN_IN_FIRST') leaveToSignIn()
  throw new ApiProblem(response.status, code, message, detail)
}

// A whole new page on purpose: what this one holds belongs to somebody who is not signed in any more.
export const leaveToSignIn = () => {
  // eslint-disable-next-line @next/next/no-location-assign-relative-destination
  window.location.href = `/sign-in?to=${encodeURIComponent(window.location.pathname + window.location.search)}`
}

/** What a view shows, kept current: `topics` name the changes that make it read again ("run", "run:12",
 * "fleet"). */
export function useViewModel<T>(path: string, topics: string[], initial?: T) {
  return useQuery<T, ApiProblem>({
    queryKey: [path],
    queryFn: () => api<T>(path),
    meta: { topics },
    ...(initial !== undefined && {
      initialData: initial,
      // what changed between the server's drawing and now was told to nobody who shows it: it is read again
      initialDataUpdatedAt: () => (changedLately(topics) ? 0 : Date.now()),
    }),
  })
}
