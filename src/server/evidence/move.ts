/** Takes evidence from one store to another. What is there already is left, so it can be stopped and gone on
 * with. */
import { evidencePage } from '@/db/evidence'
import type { Context } from '../context'
import type { EvidenceStore } from './store'

const PAGE = 500
const AT_ONCE = 6

/** Pieces by what became of them. `missing`: the store has none of this name; `damaged`: it has one with
 * other bytes. Both stay as they are. */
export type Moved = { copied: number; wereThere: number; missing: number; damaged: number; bytes: number }
type Fate = Exclude<keyof Moved, 'bytes'>

/** @param removes whether what is in `to` is deleted from `from`
 * @param isStopped asked before each piece; those in hand are finished */
export async function moveEvidence(
  { db }: Pick<Context, 'db'>,
  from: EvidenceStore,
  to: EvidenceStore,
  {
    removes = false,
    isStopped = () => false,
    say = () => {},
  }: { removes?: boolean; isStopped?(): boolean; say?(soFar: Moved): void } = {},
): Promise<Moved> {
  const moved: Moved = { copied: 0, wereThere: 0, missing: 0, damaged: 0, bytes: 0 }
  const one = async ({ hash, bytes }: { hash: string; bytes: number }) => {
    const fate = await copy(from, to, hash, bytes)
    moved[fate]++
    if (fate === 'copied') moved.bytes += bytes
    if (!removes || fate === 'missing' || fate === 'damaged') return
    await from.putAside(hash)
    await from.drop(hash)
  }
  for (let after = ''; ;) {
    const page = await evidencePage(db, after, PAGE)
    const waiting = [...page]
    const lane = async () => {
      for (let next = waiting.shift(); next && !isStopped(); next = waiting.shift()) await one(next)
    }
    await Promise.all(Array.from({ length: AT_ONCE }, lane))
    say(moved)
    if (page.length < PAGE || isStopped()) return moved
    after = page.at(-1)!.hash
  }
}

async function copy(from: EvidenceStore, to: EvidenceStore, hash: string, bytes: number): Promise<Fate> {
  if ((await to.size(hash)) === bytes) return 'wereThere'
  if ((await from.size(hash)) === undefined) return 'missing'
  return (await to.receive(hash, from.read(hash))).same ? 'copied' : 'damaged'
}
