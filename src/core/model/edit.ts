/** Edits of a file's text that keep its comments, its order and the layout of every line they do not
 * touch. */
import { diffArrays } from 'diff'
import {
  type Document,
  isCollection,
  isMap,
  isScalar,
  isSeq,
  parseDocument,
  type Node,
  type YAMLMap,
  type YAMLSeq,
} from 'yaml'
import { nodeOf, textOf } from './write'

export type Path = (string | number)[]
export type Edit =
  /** Sets a field; `undefined` takes it away. */
  | { do: 'set'; path: Path; value: unknown }
  /** The same, and what holds the field is made when it is not there, and taken away when nothing is left in
   * it. */
  | { do: 'put'; path: Path; value: unknown }
  | { do: 'remove'; paths: Path[] }
  | { do: 'insert'; list: Path; at: number; values: unknown[] }
  /** Moves nodes, comments and all, to before the element `at` of a list. A list that is not there yet is
   * made. */
  | { do: 'move'; paths: Path[]; list: Path; at: number }
  | { do: 'copy'; paths: Path[]; list: Path; at: number }
  /** Puts neighbours into one new element, under its field `into` (a block, a group). */
  | { do: 'wrap'; paths: Path[]; value: Record<string, unknown>; into: string }
  /** The opposite: the children of an element take its place. */
  | { do: 'unwrap'; path: Path; field: string }

/** An edit does not fit the text: the text was changed meanwhile, or it is not sound YAML. */
export class EditFault extends Error {}

/** Applies edits one after the other. @throws {EditFault} then nothing is changed */
export function editSource(source: string, edits: readonly Edit[]): string {
  const doc = documentOf(source)
  const layout = layoutOf(source)
  const before = textOf(doc, layout)
  for (const edit of edits) apply(doc, edit)
  return keepLayout(source, before, textOf(doc, layout))
}

/** How far the author indents, and whether the dashes of a list are indented too. */
function layoutOf(source: string): { indent: number; indentSeq: boolean } {
  const first = /\n( +)\S/.exec(source)?.[1]?.length ?? 2
  return { indent: Math.min(8, Math.max(2, first)), indentSeq: !/\n- /.test(source) }
}

function documentOf(source: string): Document {
  const doc = parseDocument(source, { keepSourceTokens: false })
  if (doc.errors[0]) throw new EditFault(`the text is not sound: ${doc.errors[0].message.split('\n')[0]}`)
  return doc as unknown as Document
}

function apply(doc: Document, edit: Edit): void {
  switch (edit.do) {
    case 'set':
      return set(doc, edit.path, edit.value)
    case 'put':
      return put(doc, edit.path, edit.value)
    case 'remove':
      for (const node of edit.paths.map((path) => nodeAt(doc, path))) take(doc, node)
      return
    case 'insert':
      return insert(
        listAt(doc, edit.list),
        edit.at,
        edit.values.map((value) => nodeOf(doc, value)),
      )
    case 'move':
      return move(doc, edit.paths, edit.list, edit.at)
    case 'copy':
      return insert(
        listAt(doc, edit.list),
        edit.at,
        edit.paths.map((path) => nodeAt(doc, path).clone() as Node),
      )
    case 'wrap':
      return wrap(doc, edit)
    case 'unwrap':
      return unwrap(doc, edit.path, edit.field)
  }
}

function set(doc: Document, path: Path, value: unknown): void {
  if (value === undefined) return void doc.deleteIn(path)
  const old = doc.getIn(path, true)
  if (isScalar(old) && (value === null || typeof value !== 'object')) {
    // A quoted text stays quoted: what was text must not become a number.
    if (typeof value !== 'string') delete old.type
    old.value = value
    return
  }
  const parent = doc.getIn(path.slice(0, -1), true)
  if (!isCollection(parent)) throw new EditFault(`there is no ${path.slice(0, -1).join('.') || 'document'}`)
  const node = nodeOf(doc, isMap(parent) ? { [path.at(-1)!]: value } : value)
  const made = isMap(parent) ? ((node as YAMLMap).get(path.at(-1)!, true) as Node) : node
  if (isCollection(old) && isCollection(made)) made.comment = old.comment
  if (isScalar(made) && parent.flow) delete made.type
  parent.set(path.at(-1)!, made)
}

function put(doc: Document, path: Path, value: unknown): void {
  const above = path.slice(0, -1)
  const empty = (at: Path) =>
    at.length > 0 && isMap(doc.getIn(at, true)) && (doc.getIn(at, true) as YAMLMap).items.length === 0
  if (value === undefined) {
    doc.deleteIn(path)
    if (empty(above)) doc.deleteIn(above)
  } else if (above.length > 0 && !isCollection(doc.getIn(above, true)))
    put(doc, above, { [path.at(-1)!]: value })
  else set(doc, path, value)
}

function move(doc: Document, paths: Path[], list: Path, at: number): void {
  const nodes = paths.map((path) => nodeAt(doc, path))
  if (paths.some((path) => path.length <= list.length && path.every((part, i) => part === list[i])))
    throw new EditFault('it cannot be moved into itself')
  const target = listAt(doc, list)
  const follower = target.items.slice(at).find((item) => !nodes.includes(item as Node))
  for (const node of nodes) take(doc, node)
  insert(target, follower === undefined ? target.items.length : target.items.indexOf(follower), nodes)
}

function wrap(doc: Document, { paths, value, into }: Extract<Edit, { do: 'wrap' }>): void {
  const first = paths[0]
  if (!first) throw new EditFault('nothing is chosen')
  const nodes = paths.map((path) => nodeAt(doc, path))
  const list = listAt(doc, first.slice(0, -1))
  const holder = nodeOf(doc, { ...value, [into]: [] }) as YAMLMap
  const inner = holder.get(into, true) as unknown as YAMLSeq
  inner.flow = false
  const at = list.items.indexOf(nodes[0]!)
  list.items.splice(at, 0, holder)
  for (const node of nodes) take(doc, node)
  insert(inner, 0, nodes)
}

function unwrap(doc: Document, path: Path, field: string): void {
  const holder = nodeAt(doc, path)
  const inner = isMap(holder) ? holder.get(field, true) : undefined
  if (!isSeq(inner)) throw new EditFault('it holds nothing')
  const list = listAt(doc, path.slice(0, -1))
  list.items.splice(list.items.indexOf(holder), 1, ...inner.items)
}

function nodeAt(doc: Document, path: Path): Node {
  const node = doc.getIn(path, true)
  if (!node) throw new EditFault(`there is no ${path.join('.')}`)
  return node as Node
}

function listAt(doc: Document, path: Path): YAMLSeq {
  const found = doc.getIn(path, true)
  if (isSeq(found)) return found
  if (found !== undefined && found !== null && !(isScalar(found) && found.value === null))
    throw new EditFault(`${path.join('.')} is not a list`)
  const parent = doc.getIn(path.slice(0, -1), true)
  if (!isMap(parent)) throw new EditFault(`there is no ${path.slice(0, -1).join('.')}`)
  const made = doc.createNode([]) as unknown as YAMLSeq
  parent.set(path.at(-1)!, made)
  return made
}

function insert(list: YAMLSeq, at: number, nodes: Node[]): void {
  if (nodes.length > 0) list.flow = false
  list.items.splice(at, 0, ...nodes)
}

/** Takes a node out of whatever list holds it; a field that holds no list element any more stays as an empty
 * list. */
function take(doc: Document, node: Node): void {
  const visit = (holder: unknown): boolean => {
    if (isSeq(holder)) {
      const at = holder.items.indexOf(node)
      if (at >= 0) return holder.items.splice(at, 1).length > 0
      return holder.items.some(visit)
    }
    return isMap(holder) && holder.items.some(({ value }) => visit(value))
  }
  if (!visit(doc.contents)) throw new EditFault('it is not in a list')
}

/** Brings the change from `before` to `after` (both in the writer's own layout) into the text as its author
 * laid it out.
 * A merge of three texts by lines: where the author's layout and the change meet, the change wins. */
export function keepLayout(source: string, before: string, after: string): string {
  if (source === before) return after
  const lines = (text: string) => text.split('\n')
  const own = hunks(lines(before), lines(source))
  const change = hunks(lines(before), lines(after))
  const meet = (a: Hunk, b: Hunk) => (a.from < b.to && b.from < a.to) || a.from === b.from
  const kept = own.filter((hunk) => !change.some((other) => meet(hunk, other)))
  const all = [...kept, ...change].sort((a, b) => b.from - a.from || b.to - a.to)
  const merged = lines(before)
  for (const { from, to, lines: put } of all) merged.splice(from, to - from, ...put)
  const text = merged.join('\n')
  return sameContent(text, after) ? text : after
}

type Hunk = { from: number; to: number; lines: string[] }

/** Where `b` differs from `a`, as pieces of `a` (half-open) and the lines that replace them. */
function hunks(a: string[], b: string[]): Hunk[] {
  const found: Hunk[] = []
  let at = 0
  let open: Hunk | undefined
  for (const { added, removed, value } of diffArrays(a, b)) {
    if (!added && !removed) {
      at += value.length
      open = undefined
      continue
    }
    if (!open) found.push((open = { from: at, to: at, lines: [] }))
    if (added) open.lines.push(...value)
    else open.to = at += value.length
  }
  return found.flatMap(lineByLine)
}

/** Lines that were replaced one for one stand for themselves: a change of one need not undo the layout of the
 * next. */
function lineByLine(hunk: Hunk): Hunk[] {
  if (hunk.lines.length !== hunk.to - hunk.from) return [hunk]
  return hunk.lines.map((line, i) => ({ from: hunk.from + i, to: hunk.from + i + 1, lines: [line] }))
}

function sameContent(a: string, b: string): boolean {
  const read = (text: string) => {
    const doc = parseDocument(text)
    return doc.errors.length > 0 ? undefined : JSON.stringify(doc.toJS())
  }
  return read(a) !== undefined && read(a) === read(b)
}
