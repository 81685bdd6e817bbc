/** The audit trail for people: filtered, in windows, and as a file. */
import { csvOfCells } from '@/core/formats'
import { auditLines, type AuditFilter, type AuditRow } from '@/db/audit'
import type { AuditLine } from '@/core/view-models'
import type { Context } from '../context'
import { Problem } from '../http/problems'

const WINDOW = 100
const EXPORTED_MOST = 100_000
const EXPORTED_AT_ONCE = 2000

/** @throws {Problem} BODY_INVALID for a moment that is none */
export function auditFilter(given: URLSearchParams): AuditFilter {
  const text = (name: string) => given.get(name)?.slice(0, 100) || undefined
  const moment = (name: string): Date | undefined => {
    const written = text(name)
    if (!written) return undefined
    const at = new Date(written)
    if (Number.isNaN(at.getTime()))
      throw new Problem('BODY_INVALID', `“${name}” is a day or a moment: 2026-11-29.`)
    return at
  }
  const [who, action, from, to, before] = [
    text('who'),
    text('action'),
    moment('from'),
    moment('to'),
    text('before'),
  ]
  return {
    ...(who && { who }),
    ...(action && { action }),
    ...(from && { from }),
    ...(to && { to: new Date(to.getTime() + (given.get('to')!.length <= 10 ? 86_399_999 : 0)) }),
    ...(before && /^\d{1,15}$/.test(before) && { before: Number(before) }),
  }
}

const lineOf = ({ id, at, who, actor, address, action, subject, detail, seal }: AuditRow): AuditLine => ({
  id,
  at: at.toISOString(),
  who,
  actor,
  address,
  action,
  subject,
  detail: inWords(detail),
  sealed: seal !== null,
})

/** "role tester, name Isla Brandt". */
const inWords = (detail: Record<string, unknown>): string =>
  Object.entries(detail)
    .map(([name, value]) => `${name} ${typeof value === 'string' ? value : JSON.stringify(value)}`)
    .join(', ')

export async function auditWindow(
  ctx: Pick<Context, 'db'>,
  filter: AuditFilter,
): Promise<{ lines: AuditLine[]; more: boolean }> {
  const rows = await auditLines(ctx.db, filter, WINDOW + 1)
  return { lines: rows.slice(0, WINDOW).map(lineOf), more: rows.length > WINDOW }
}

/** RFC 4180, newest first. A cell that a spreadsheet would take for a formula begins with an apostrophe. */
export async function* auditCsv(ctx: Pick<Context, 'db'>, filter: AuditFilter): AsyncGenerator<string> {
  yield 'id,at,who,actor,address,action,subject,detail\r\n'
  let before = filter.before
  for (let left = EXPORTED_MOST; left > 0;) {
    const rows = await auditLines(
      ctx.db,
      { ...filter, ...(before !== undefined && { before }) },
      Math.min(left, EXPORTED_AT_ONCE),
    )
    if (rows.length === 0) return
    for (const { id, at, who, actor, address, action, subject, detail } of rows.map(lineOf)) {
      yield `${csvOfCells([[id, at, who, actor, address, action, subject, detail]])}\r\n`
    }
    before = rows.at(-1)!.id
    left -= rows.length
  }
}
