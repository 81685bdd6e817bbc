/** The order things run in: as they stand, but never before what they wait for. */

export type Waiting = { title: string; scopes: readonly string[]; after: readonly string[] }

/** Orders stably (Kahn's algorithm over items and scopes; of what may run, the first in the list comes
 * first).
 * Items in a circle, or behind one, are in `circles` with the reason. Takes n log n in items and their
 * scopes. */
export function ordered<T extends Waiting>(
  items: readonly T[],
): { inOrder: T[]; circles: { item: T; why: string }[] } {
  const membersLeft = new Map<string, number>()
  for (const { scopes } of items)
    for (const scope of scopes) membersLeft.set(scope, (membersLeft.get(scope) ?? 0) + 1)
  const waiters = new Map<string, number[]>()
  const open = items.map(({ after }, i) => {
    // a scope that holds nothing is over already
    const waits = [...new Set(after)].filter((scope) => membersLeft.has(scope))
    for (const scope of waits) waiters.set(scope, [...(waiters.get(scope) ?? []), i])
    return waits.length
  })
  const ready = new MinHeap()
  open.forEach((count, i) => count === 0 && ready.push(i))
  const inOrder: T[] = []
  const done = new Set<number>()
  for (let i = ready.pop(); i !== undefined; i = ready.pop()) {
    inOrder.push(items[i]!)
    done.add(i)
    for (const scope of items[i]!.scopes) {
      const left = membersLeft.get(scope)! - 1
      membersLeft.set(scope, left)
      if (left === 0)
        for (const waiter of waiters.get(scope) ?? []) if (--open[waiter]! === 0) ready.push(waiter)
    }
  }
  return { inOrder, circles: circlesAmong(items.filter((_, i) => !done.has(i))) }
}

/** What is left over all waits for something that is left over too: each follows its way until that comes
 * back on itself. */
function circlesAmong<T extends Waiting>(left: readonly T[]): { item: T; why: string }[] {
  const holder = new Map<string, T>()
  for (const item of left) for (const scope of item.scopes) if (!holder.has(scope)) holder.set(scope, item)
  const next = new Map(
    left.map((item) => [item, holder.get(item.after.find((scope) => holder.has(scope))!)!]),
  )
  return left.map((item) => {
    const way: T[] = []
    let at = item
    for (; !way.includes(at) && way.length < CIRCLE_MOST; at = next.get(at)!) way.push(at)
    const names = [...way.slice(Math.max(0, way.indexOf(at))), at].map(({ title }) => `“${title}”`)
    return {
      item,
      why:
        at === item
          ? `a circle: ${names.join(' waits for ')}`
          : `it waits for ${names[0]}, which is in a circle`,
    }
  })
}
/** Longer circles are told by their first members. */
const CIRCLE_MOST = 12

/** Smallest number first. */
class MinHeap {
  private readonly heap: number[] = []
  push(value: number): void {
    let i = this.heap.push(value) - 1
    while (i > 0) {
      const parent = (i - 1) >> 1
      if (this.heap[parent]! <= value) break
      this.heap[i] = this.heap[parent]!
      i = parent
    }
    this.heap[i] = value
  }
  pop(): number | undefined {
    const top = this.heap[0]
    const last = this.heap.pop()
    if (top === undefined || last === undefined || this.heap.length === 0) return top
    let i = 0
    for (;;) {
      let child = 2 * i + 1
      if (child >= this.heap.length) break
      if (child + 1 < this.heap.length && this.heap[child + 1]! < this.heap[child]!) child++
      if (this.heap[child]! >= last) break
      this.heap[i] = this.heap[child]!
      i = child
    }
    this.heap[i] = last
    return top
  }
}
