/** Answers about the log of an attempt, as the server gives them. */
import { LogReading, type OutlineHead, type OutlineLine } from '@/core/execution'

const MS = 60_000

/** From now on. @returns the head of its outline, and the paths that are asked */
export function serveLog(id: string, lines: readonly OutlineLine[]): { head: OutlineHead; asked: string[] } {
  const reading = new LogReading(lines)
  const asked: string[] = []
  globalThis.fetch = async (address) => {
    const path = String(address)
    asked.push(path)
    const answer = answerOf(reading, id, path)
    const status = answer === undefined ? 404 : 200
    return {
      status,
      ok: status === 200,
      json: async () => answer ?? { code: 'NOT_FOUND', message: 'none' },
    } as Response
  }
  return { head: reading.head(MS), asked }
}

function answerOf(reading: LogReading, id: string, address: string): unknown {
  const [path = '', query = ''] = address.split('?')
  const asked = new URLSearchParams(query)
  const narrowing = {
    fold: asked.get('fold') === 'true',
    only: asked.get('only'),
    byPage: asked.get('byPage') === 'true',
  }
  const find = asked.get('find') ?? ''
  const part = path.slice(`/api/attempts/${id}/`.length)
  if (part === 'lines')
    return reading.window(narrowing, find, Number(asked.get('from')), Number(asked.get('count')))
  if (part === 'hits') return reading.hits(narrowing, find, asked.get('selected') ?? undefined)
  return part.startsWith('lines/')
    ? reading.line(decodeURIComponent(part.slice('lines/'.length)), narrowing)
    : undefined
}
