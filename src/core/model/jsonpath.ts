/** The part of JSONPath (RFC 9535) whose time grows with the JSON alone: `$.a.b[0].c[*]["d e"][-1]`. Names,
 * indices and all of them; no filters, and no search at any depth (decision 0011). */

type Segment = { name: string } | { index: number } | 'all'

/** `.name`, `.*`, `[*]`, `[3]`, `[-1]`, `['name']`, `["name"]`. Names may hold a hyphen, which the standard
 * asks to put in quotes. */
const SEGMENTS = [
  /\.(?<name>[\p{L}_][\p{L}\p{N}_-]*)/u,
  /(?<all>\.\*|\[\s*\*\s*\])/u,
  /\[\s*(?<index>-?\d{1,9})\s*\]/u,
  /\[\s*(?<quoted>"(?:[^"\\]|\\.)*"|'(?:[^'\\]|\\.)*')\s*\]/u,
]
const SEGMENT = new RegExp(SEGMENTS.map(({ source }) => source).join('|'), 'uy')

/** Whether a path can be read. */
export const isJsonPath = (path: string): boolean => segmentsOf(path) !== undefined

/** All values at a path, in document order; none when the path leads nowhere. `undefined` if the path cannot
 * be read. */
export function valuesAt(json: unknown, path: string): unknown[] | undefined {
  return segmentsOf(path)?.reduce<unknown[]>(
    (values, segment) => values.flatMap((value) => childrenAt(value, segment)),
    [json],
  )
}

function segmentsOf(path: string): Segment[] | undefined {
  if (!path.startsWith('$')) return undefined
  const segments: Segment[] = []
  SEGMENT.lastIndex = 1
  while (SEGMENT.lastIndex < path.length) {
    const { name, all, index, quoted } = SEGMENT.exec(path)?.groups ?? {}
    const unquoted = quoted === undefined ? name : nameIn(quoted)
    if (unquoted !== undefined) segments.push({ name: unquoted })
    else if (all !== undefined) segments.push('all')
    else if (index !== undefined) segments.push({ index: Number(index) })
    else return undefined
  }
  return segments
}

/** A name in quotes, written as a string of JSON, or in single quotes. */
function nameIn(quoted: string): string | undefined {
  const text = quoted.slice(1, -1)
  const inJson = quoted.startsWith('"') ? text : text.replace(/\\.|"/gsu, inDoubleQuotes)
  try {
    return JSON.parse(`"${inJson}"`) as string
  } catch {
    return undefined
  }
}

/** Escapes and quotes that are written in another way in single quotes. */
const IN_DOUBLE_QUOTES: Record<string, string> = { "\\'": "'", '"': '\\"' }
const inDoubleQuotes = (part: string): string => IN_DOUBLE_QUOTES[part] ?? part

function childrenAt(value: unknown, segment: Segment): unknown[] {
  if (value === null || typeof value !== 'object') return []
  if (segment === 'all') return Object.values(value)
  if ('index' in segment) {
    const child: unknown = Array.isArray(value) ? value.at(segment.index) : undefined
    return child === undefined ? [] : [child]
  }
  const has = !Array.isArray(value) && Object.hasOwn(value, segment.name)
  return has ? [(value as Record<string, unknown>)[segment.name]] : []
}
