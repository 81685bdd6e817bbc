/** The small part of JSONPath (RFC 9535) that checks need: `$.a.b[0].c[*].d`. */

/** All values at a path, in document order; none when the path leads nowhere. `undefined` if the path cannot
 * be read. */
export function valuesAt(json: unknown, path: string): unknown[] | undefined {
  if (!/^\$(\.[A-Za-z_][\w-]*|\[(\d+|\*)\])*$/.test(path)) return undefined
  let values: unknown[] = [json]
  for (const part of path.slice(1).match(/\.[A-Za-z_][\w-]*|\[(?:\d+|\*)\]/g) ?? []) {
    values = values.flatMap((value) => {
      if (part.startsWith('.'))
        return isRecord(value) && Object.hasOwn(value, part.slice(1)) ? [value[part.slice(1)]] : []
      if (!Array.isArray(value)) return []
      if (part === '[*]') return value as unknown[]
      const at = Number(part.slice(1, -1))
      return at < value.length ? [value[at] as unknown] : []
    })
  }
  return values
}

const isRecord = (value: unknown): value is Record<string, unknown> =>
  value !== null && typeof value === 'object' && !Array.isArray(value)
