/** Which units wait for each other in a circle, and so can never start. */

/** Strongly connected components of more than one unit: Tarjan, Depth-first search and linear graph
 * algorithms, 1972. */
export function circlesOf(units: readonly { behind: readonly number[] }[]): number[][] {
  const index = new Int32Array(units.length).fill(-1)
  const low = new Int32Array(units.length)
  const onStack = new Uint8Array(units.length)
  const stack: number[] = []
  const circles: number[][] = []
  let next = 0
  for (let root = 0; root < units.length; root++) {
    if (index[root]! >= 0) continue
    const work: { unit: number; edge: number }[] = [{ unit: root, edge: 0 }]
    while (work.length > 0) {
      const top = work.at(-1)!
      const { unit } = top
      if (top.edge === 0) {
        index[unit] = low[unit] = next++
        stack.push(unit)
        onStack[unit] = 1
      }
      const to = units[unit]!.behind[top.edge++]
      if (to !== undefined) {
        if (index[to]! < 0) work.push({ unit: to, edge: 0 })
        else if (onStack[to]) low[unit] = Math.min(low[unit]!, index[to]!)
        continue
      }
      work.pop()
      const above = work.at(-1)
      if (above) low[above.unit] = Math.min(low[above.unit]!, low[unit]!)
      if (low[unit] !== index[unit]) continue
      const circle = stack.splice(stack.indexOf(unit))
      for (const one of circle) onStack[one] = 0
      if (circle.length > 1) circles.push(circle)
    }
  }
  return circles
}
