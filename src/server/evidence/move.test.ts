import { join } from 'node:path'
import { writeFile } from 'node:fs/promises'
import { testContext, type TestContext } from '../testing/context'
import { fileEvidenceStore, keepEvidence, moveEvidence } from '.'
import { hashOf, type EvidenceStore } from './store'

let ctx: TestContext
let other: EvidenceStore
const hashes: string[] = []
beforeAll(async () => {
  ctx = await testContext()
  other = fileEvidenceStore(join(ctx.home, 'elsewhere'))
  for (let i = 0; i < 30; i++) {
    const bytes = Buffer.from(`piece ${i}`)
    hashes.push(hashOf(bytes))
    await keepEvidence(ctx, hashOf(bytes), 'text/plain', bytes)
  }
})
afterAll(() => ctx.end())

test('it stops when it is told, goes on from there, tells what is lost or changed, and empties the first', async () => {
  let asked = 0
  const stopped = await moveEvidence(ctx, ctx.evidence, other, { isStopped: () => ++asked > 8 })
  expect(stopped.copied).toBe(8)

  const lost = await notThere()
  await ctx.evidence.putAside(lost)
  await ctx.evidence.drop(lost)
  const changed = await notThere()
  await writeFile(join(ctx.home, 'evidence', changed.slice(0, 2), changed.slice(2)), 'something else')

  const rest = await moveEvidence(ctx, ctx.evidence, other, { removes: true })
  expect(rest).toMatchObject({ copied: 20, wereThere: 8, missing: 1, damaged: 1 })
  const left = await Promise.all(hashes.map((hash) => ctx.evidence.size(hash)))
  expect(left.filter((size) => size !== undefined)).toEqual(['something else'.length])
  const there = await Promise.all(hashes.map((hash) => other.size(hash)))
  expect(there.filter((size) => size !== undefined)).toHaveLength(28)
})

/** A piece that was not copied yet. */
async function notThere(): Promise<string> {
  for (const hash of hashes)
    if ((await other.size(hash)) === undefined && (await ctx.evidence.size(hash)) !== undefined) return hash
  throw new Error('all were copied')
}
