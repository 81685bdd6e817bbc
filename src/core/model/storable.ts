/** Text that PostgreSQL and JSON can store. Pages may say anything: NUL, halves of an emoji, terminal
 * codes. */

/** Control characters but tab, line feed and carriage return; the halves of a surrogate pair that have no
 * other half. */
const UNSTORABLE =
  /[\u0000-\u0008\u000b\u000c\u000e-\u001f\u007f-\u009f]|[\ud800-\udbff](?![\udc00-\udfff])|(?<![\ud800-\udbff])[\udc00-\udfff]/
const ALL_UNSTORABLE = new RegExp(UNSTORABLE, 'g')

const CONTROL_PICTURES = 0x2400
const DELETE_PICTURE = '\u2421'
const REPLACEMENT = '\ufffd'

/** Values nested deeper than this are not read any further: no definition and no event comes near it. */
export const NESTING_MOST = 100

/** The text with each character that cannot be stored shown as what it is: NUL as "␀", half an emoji as
 * "�". */
export const storable = (text: string): string =>
  UNSTORABLE.test(text) ? text.replace(ALL_UNSTORABLE, shown) : text

/** Whether a text can be stored as it is. */
export const isStorable = (text: string): boolean => !UNSTORABLE.test(text)

function shown(character: string): string {
  const code = character.charCodeAt(0)
  if (code < 0x20) return String.fromCharCode(CONTROL_PICTURES + code)
  if (code === 0x7f) return DELETE_PICTURE
  return code <= 0x9f ? `\\x${code.toString(16)}` : REPLACEMENT
}

/** The same for every text in a JSON value, names of fields too. What is nested deeper than 100 is left
 * out. */
export const storableDeep = <T>(value: T): T => mapTexts(value, storable)

/** A JSON value with each of its texts changed.
 * @param change of a text; @param name of the name of a field, by default the same
 * @param nestingMost what is nested deeper becomes `null` */
export function mapTexts<T>(
  value: T,
  change: (text: string) => string,
  {
    name = change,
    nestingMost = NESTING_MOST,
  }: { name?: (text: string) => string; nestingMost?: number } = {},
): T {
  const visit = (one: unknown, depth: number): unknown => {
    if (typeof one === 'string') return change(one)
    if (one === null || typeof one !== 'object') return one
    if (depth >= nestingMost) return null
    if (Array.isArray(one)) return one.map((item) => visit(item, depth + 1))
    return Object.fromEntries(Object.entries(one).map(([key, item]) => [name(key), visit(item, depth + 1)]))
  }
  return visit(value, 0) as T
}

/** The first text in a JSON value that cannot be stored, or what is nested too deep.
 * @returns its place, dotted, and what is wrong with it; `undefined` when all of it can be stored */
export function unstorableIn(value: unknown): { path: string; message: string } | undefined {
  return search(value, [])
}

function search(value: unknown, path: readonly string[]): { path: string; message: string } | undefined {
  if (typeof value === 'string')
    return isStorable(value) ? undefined : { path: path.join('.'), message: CANNOT_BE_STORED }
  if (value === null || typeof value !== 'object') return undefined
  if (path.length >= NESTING_MOST)
    return { path: `${path.slice(0, 3).join('.')}…`, message: `is nested deeper than ${NESTING_MOST}` }
  for (const [name, item] of Object.entries(value)) {
    if (!isStorable(name)) return { path: [...path, storable(name)].join('.'), message: CANNOT_BE_STORED }
    const found = search(item, [...path, name])
    if (found) return found
  }
  return undefined
}

const CANNOT_BE_STORED =
  'holds a character that cannot be stored (a control character, or half of one beyond 16 bits)'
