'use client'
/** The log of an attempt, in parts: windows of its lines, and one line whole. */
import { keepPreviousData, useQueries, useQuery } from '@tanstack/react-query'
import type { HitsAnswer, LineAnswer, Narrowing } from '@/core/execution'
import { LINES_PAGE, type BesideAnswer } from '@/core/view-models'
import { api, type ApiProblem } from '../api'
import { changedLately } from '../frame/changes'

const PAGE = LINES_PAGE
/** How long a page of lines is held when it has gone out of sight: who scrolls through a long log would hold
 * all of it. */
const HELD_MS = 5000

const queryOf = (given: Record<string, string | number | boolean | null | undefined>): string =>
  new URLSearchParams(
    Object.entries(given).flatMap(([name, value]) =>
      value === null || value === undefined || value === '' || value === false ? [] : [[name, String(value)]],
    ),
  ).toString()

export const linesUrl = (id: string, narrowing: Narrowing, find: string) => (from: number) =>
  `/api/attempts/${id}/lines?${queryOf({ from, count: PAGE, find, ...narrowing })}`
export const textUrl = (id: string, narrowing: Narrowing) =>
  `/api/attempts/${id}/text?${queryOf({ ...narrowing })}`
export const besideUrl = (id: string, other: string) => (from: number) =>
  `/api/attempts/${id}/beside/${other}?${queryOf({ from, count: PAGE })}`
export const lineUrl = (id: string, path: string, narrowing: Narrowing) =>
  `/api/attempts/${id}/lines/${encodeURIComponent(path)}?${queryOf({ ...narrowing })}`

/** What came with the first drawing: read again where it changed since. */
const sent = <T>(data: T, topics: string[]) => ({
  initialData: data,
  initialDataUpdatedAt: () => (changedLately(topics) ? 0 : Date.now()),
})

export type Page<R> = { total: number; from: number; rows: R[] }

/** Pages of a long list: those that are looked at.
 * @param shown which items are drawn
 * @param known a page that came with the first drawing
 * @returns how many there are, once a page has told; and an item, once its page has come */
export function usePages<R>(
  urlOf: (from: number) => string,
  shown: readonly number[],
  topics: string[],
  known?: Page<R>,
): { told: number | undefined; row(index: number): R | undefined } {
  const pages = [...new Set(shown.map((index) => Math.floor(index / PAGE)))]
  const wanted = pages.length > 0 ? pages : [0]
  const results = useQueries({
    queries: wanted.map((page) => ({
      queryKey: [urlOf(page * PAGE)],
      queryFn: () => api<Page<R>>(urlOf(page * PAGE)),
      meta: { topics },
      gcTime: HELD_MS,
      ...(known?.from === page * PAGE && sent(known, topics)),
    })),
  })
  return {
    told: results.find(({ data }) => data !== undefined)?.data?.total,
    row: (index) => results[wanted.indexOf(Math.floor(index / PAGE))]?.data?.rows[index % PAGE],
  }
}

/** One line, whole; the one before stays until the next has come. @param path absent: nothing is asked */
export function useLine(
  id: string,
  path: string | null | undefined,
  narrowing: Narrowing,
  initial?: { path: string; answer: LineAnswer },
) {
  const url = lineUrl(id, path ?? '', narrowing)
  const known = initial !== undefined && initial.path === path ? initial.answer : undefined
  return useQuery<LineAnswer, ApiProblem>({
    queryKey: [url],
    queryFn: () => api(url),
    enabled: path !== null && path !== undefined,
    placeholderData: keepPreviousData,
    retry: false,
    meta: { topics: [`attempt:${id}`] },
    ...(known && sent(known, [`attempt:${id}`])),
  })
}

/** How many lines have a text, and those around the selected one. */
export function useHits(
  id: string,
  find: string,
  narrowing: Narrowing,
  selected: string | undefined,
): HitsAnswer {
  const isAsked = find.trim() !== ''
  const url = `/api/attempts/${id}/hits?${queryOf({ find, selected, ...narrowing })}`
  const { data } = useQuery<HitsAnswer, ApiProblem>({
    queryKey: [url],
    queryFn: () => api(url),
    enabled: isAsked,
    placeholderData: keepPreviousData,
    meta: { topics: [`attempt:${id}`] },
  })
  return (isAsked ? data : undefined) ?? { count: 0, at: -1 }
}

/** How a line stands beside another attempt. @param other absent: nothing is asked */
export function useBeside(id: string, other: string | undefined, path: string | undefined) {
  const url = `/api/attempts/${id}/beside/${other ?? ''}?${queryOf({ count: 0, path })}&from=0`
  return useQuery<BesideAnswer, ApiProblem>({
    queryKey: [url],
    queryFn: () => api(url),
    enabled: other !== undefined,
    placeholderData: keepPreviousData,
    meta: { topics: [`attempt:${id}`] },
  })
}
