/** What a `query` step may ask: one statement that reads. The database refuses writes as well, by the role it
 * is asked as and by a read-only transaction (PostgreSQL manual, "SET TRANSACTION"); what is refused here is
 * what those two let through. */

const MAY_BEGIN_WITH = new Set(['select', 'with', 'values', 'table', 'show'])

/** Functions that reach beyond reading: large objects, other sessions, other servers, files, settings, notes
 * to others. A star stands for any letters. */
const REACHING_FUNCTIONS = [
  ...['lo_*', 'lowrite', 'loread'],
  ...['pg_terminate_backend', 'pg_cancel_backend', 'pg_advisory_*', 'pg_try_advisory_*', 'pg_notify'],
  ...['pg_read_*file*', 'pg_write_*file*', 'pg_ls_*', 'pg_stat_file', 'pg_file_*', 'pg_import_*'],
  ...['pg_reload_conf', 'pg_rotate_logfile', 'pg_logfile_rotate', 'pg_switch_wal', 'pg_promote'],
  ...['pg_logical_*', 'pg_replication_*', 'pg_create_*', 'pg_drop_*', 'pg_current_xact_id'],
  ...['query_to_xml*', 'table_to_xml*', 'cursor_to_xml*', 'schema_to_xml*', 'database_to_xml*'],
  ...['dblink*', 'set_config', 'currval', 'nextval', 'setval', 'txid_current'],
]
const REACHES_OUT = new RegExp(
  String.raw`"?\b(${REACHING_FUNCTIONS.map((name) => name.replaceAll('*', String.raw`\w*`)).join('|')})"?\s*\(`,
  'i',
)

/** @returns why a statement is not taken, as a part of a sentence; `undefined` when it is */
export function queryProblem(sql: string): string | undefined {
  const { words, statements } = skeletonOf(sql)
  if (statements === 0) return 'there is no statement'
  if (statements > 1) return 'there are several statements; a query is one'
  const first = /^[\s(]*([a-z]+)/i.exec(words)?.[1]?.toLowerCase() ?? ''
  if (!MAY_BEGIN_WITH.has(first)) {
    return (
      `it begins with “${first || words.trim().slice(0, 20)}”; a query reads: it begins with select, ` +
      'with, values, table or show'
    )
  }
  if (/\bu&"/i.test(words)) return 'names are written plainly, not by the numbers of their letters'
  const reaches = REACHES_OUT.exec(words)
  if (reaches) return `it calls ${reaches[1]!.toLowerCase()}, which does more than read`
  if (/\binto\b/i.test(words) && first === 'select') return 'select … into makes a table; a query reads'
  if (/\bfor\s+(?:no\s+key\s+)?(?:update|share|key\s+share)\b/i.test(words))
    return 'it locks what it reads; leave out “for update” or “for share”'
  return undefined
}

/** A statement without its texts and comments: names and words alone, and how many statements they are. */
function skeletonOf(sql: string): { words: string; statements: number } {
  let words = ''
  let at = 0
  while (at < sql.length) {
    const named = endOfName(sql, at)
    const skipped = named > at ? at : skippedAt(sql, at)
    if (named > at) {
      words += sql.slice(at, named).replaceAll(';', '')
      at = named
    } else if (skipped > at) {
      words += ' '
      at = skipped
    } else words += sql[at++]
  }
  return { words, statements: words.split(';').filter((part) => part.trim() !== '').length }
}

/** Where a name in quotes that begins here ends; `at` itself when none begins. */
function endOfName(sql: string, from: number): number {
  if (sql[from] !== '"') return from
  for (let at = from + 1; at < sql.length; at++) {
    if (sql[at] !== '"') continue
    if (sql[at + 1] !== '"') return at + 1
    at++
  }
  return sql.length
}

/** Where a text or comment that begins here ends; `at` itself when none begins. */
function skippedAt(sql: string, at: number): number {
  const rest = sql.slice(at, at + 80)
  if (rest.startsWith('--')) return endOr(sql, sql.indexOf('\n', at), 1)
  if (rest.startsWith('/*')) return endOfComment(sql, at)
  if (/^e'/i.test(rest) && !/\w/.test(sql[at - 1] ?? ' ')) return endOfText(sql, at + 1, true)
  if (rest.startsWith("'")) return endOfText(sql, at, false)
  const dollar = /^\$([A-Za-z_][A-Za-z0-9_]*)?\$/.exec(rest)
  if (dollar && !/\w/.test(sql[at - 1] ?? ' '))
    return endOr(sql, sql.indexOf(dollar[0], at + dollar[0].length), dollar[0].length)
  return at
}

const endOr = (sql: string, found: number, length: number): number =>
  found < 0 ? sql.length : found + length

/** Comments of SQL stand in each other. */
function endOfComment(sql: string, from: number): number {
  let depth = 0
  for (let at = from; at < sql.length; at++) {
    if (sql.startsWith('/*', at)) {
      depth++
      at++
    } else if (sql.startsWith('*/', at)) {
      depth--
      at++
      if (depth === 0) return at + 1
    }
  }
  return sql.length
}

/** @param escapes whether a backslash takes the next character with it */
function endOfText(sql: string, from: number, escapes: boolean): number {
  for (let at = from + 1; at < sql.length; at++) {
    if (escapes && sql[at] === '\\') at++
    else if (sql[at] === "'") {
      if (sql[at + 1] !== "'") return at + 1
      at++
    }
  }
  return sql.length
}
