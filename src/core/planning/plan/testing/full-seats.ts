import type { Random } from '../../../execution/random'
import type { PlanInput, PlanWork } from '../types'

/** Work cut out of full seats: all end at `endMs`, so no plan can end earlier, and one ends then.
 * @param each items a seat; `ties`: work also follows and excludes other work, as it does in that plan */
export function cutFromFull({
  agents,
  seats,
  each,
  environments,
  endMs,
  ties,
  random,
}: {
  agents: number
  seats: number
  each: number
  environments: number
  endMs: number
  ties: number
  random: Random
}): PlanInput {
  const other = 4000
  const names = Array.from({ length: environments }, (_, e) => `env-${e}`)
  const pieces: (PlanWork & { at: number; end: number })[] = []
  for (let s = 0; s < agents * seats; s++) {
    const blocks = 1 + Math.floor(random() * Math.min(2, environments))
    const chosen = names.toSorted(() => random() - 0.5).slice(0, blocks)
    const cuts = Array.from({ length: each - 1 }, () => random()).sort((a, b) => a - b)
    const time = endMs - (blocks - 1) * other
    let at = 0
    const bounds = [...cuts, 1]
    bounds.forEach((cut, i) => {
      const from = i === 0 ? 0 : bounds[i - 1]!
      const ms = Math.round(cut * time) - Math.round(from * time)
      const block = Math.floor((i * blocks) / each)
      if (i > 0 && block !== Math.floor(((i - 1) * blocks) / each)) at += other
      pieces.push({ id: `w${s}-${i}`, environment: chosen[block]!, ms, at, end: at + ms })
      at += ms
    })
  }
  for (let k = 0; k < ties; k++) {
    const [a, b] = [
      pieces[Math.floor(random() * pieces.length)]!,
      pieces[Math.floor(random() * pieces.length)]!,
    ]
    if (a.end <= b.at && a.ms > 0 && b.ms > 0) {
      if (random() < 0.6) b.after = [...new Set([...(b.after ?? []), a.id])]
      else if (!a.exclusive && !b.exclusive) a.exclusive = b.exclusive = [`name-${k}`]
    }
  }
  return {
    agents: Array.from({ length: agents }, (_, a) => ({ id: `agent-${a}`, seats, environments: names })),
    work: pieces
      .map(({ id, environment, ms, after, exclusive }) => ({
        id,
        environment,
        ms,
        ...(after && { after }),
        ...(exclusive && { exclusive }),
      }))
      .toSorted(() => random() - 0.5),
    spread: 'split',
  }
}
