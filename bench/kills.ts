/** Ends processes of a product at random, as a machine in trouble would: kill -9, without a word. */
import { execFileSync } from 'node:child_process'
import { setTimeout } from 'node:timers/promises'
import { randomFrom } from '@/core/execution'
import type { Ledger } from './ledger'
import type { Product } from './product'

/** What may be killed, and how it is found among the launcher's children. */
const VICTIMS = [
  ['web', /build\/web\.mjs|^next-server/],
  ['worker', /build\/worker\.mjs/],
  ['agents', /agent-fleet\.json/],
  ['postgres', undefined],
] as const

export type KillPlan = {
  kills: number
  /** Between two of them. */
  pauseMs: readonly [least: number, most: number]
  /** The same seed kills in the same order. */
  seed: number
  isOver(): Promise<boolean>
}

/** @returns how often each was killed */
export async function killAtRandom(
  product: Product,
  ledger: Ledger,
  { kills: wanted, pauseMs: [least, most], seed, isOver }: KillPlan,
): Promise<Record<string, number>> {
  const random = randomFrom(seed)
  const kills: Record<string, number> = {}
  for (let done = 0; done < wanted;) {
    await setTimeout(least + random() * (most - least))
    if (await isOver()) break
    const [name, pattern] = VICTIMS[Math.floor(random() * VICTIMS.length)]!
    const pid = pattern ? childOf(product, pattern) : ledger.postmaster()
    if (!pid) continue // it is down already, and not up again yet
    try {
      process.kill(pid, 'SIGKILL')
      kills[name] = (kills[name] ?? 0) + 1
      done++
    } catch {} // gone between the two
  }
  return kills
}

/** Process number of a child of the launcher. */
export const childOf = (product: Product, pattern: RegExp): number | undefined =>
  childrenOf(product, pattern)[0]

export function childrenOf({ launcher }: Product, pattern: RegExp): number[] {
  const lines = execFileSync('ps', ['-o', 'pid=,ppid=,args=', '-e'], { encoding: 'utf8' }).split('\n')
  return lines
    .map((text) => /^\s*(\d+)\s+(\d+)\s+(.*)$/.exec(text))
    .flatMap((found) =>
      found && Number(found[2]) === launcher && pattern.test(found[3]!) ? [Number(found[1])] : [],
    )
}

export const WEB = VICTIMS[0][1]
