import { Concealing } from './concealing'
import type { Engine } from './engine'

/** A page whose documents are names; those in `knowing` hide already. */
function pageOf(shown: () => string[], unreachable: readonly string[] = []) {
  const knowing = new Set<string>()
  const engine = {
    frames: async () => shown(),
    run: async (document: string, call: string) => {
      if (!shown().includes(document) || unreachable.includes(document)) throw new Error('It is not there')
      if (call !== 'hideEchoes') return
      const did = knowing.has(document)
      knowing.add(document)
      return did
    },
  } as unknown as Engine<string, never>
  const concealing = new Concealing(engine)
  return { concealing, knowing }
}

describe('a picture of a page with secrets', () => {
  it('is taken once of documents that stay', async () => {
    const { concealing, knowing } = pageOf(() => ['fares', 'map'])
    await concealing.conceal(['herring-4711'], ['http://ferry.example'])
    const taken: string[] = []
    expect(await concealing.picture(async () => taken.push([...knowing].join(' ')))).toBe(1)
    expect(taken).toEqual(['fares map'])
  })
  it('shows no document that came after all were asked to hide them', async () => {
    let shown = 'fares'
    const { concealing, knowing } = pageOf(() => [shown])
    await concealing.conceal(['herring-4711'], ['http://ferry.example'])
    const picture = await concealing.picture(async () => {
      shown = 'thanks'
      return { shown, hides: knowing.has(shown) }
    })
    expect(picture).toEqual({ shown: 'thanks', hides: true })
  })
  it('shows no frame that came in between', async () => {
    const shown = ['fares']
    const { concealing, knowing } = pageOf(() => shown)
    await concealing.conceal(['herring-4711'], ['http://ferry.example'])
    const picture = await concealing.picture(async () => {
      if (shown.length === 1) shown.push('thanks')
      return shown.every((document) => knowing.has(document))
    })
    expect(picture).toBe(true)
  })
  it('is none of a page that goes on without end', async () => {
    let pages = 0
    const { concealing } = pageOf(() => [`page ${pages}`])
    await concealing.conceal(['herring-4711'], ['http://ferry.example'])
    expect(await concealing.picture(async () => ++pages)).toBeUndefined()
    expect(pages).toBeLessThan(10)
  })
  it('is one of a page that runs no scripts, but of none that was left for such a page', async () => {
    let shown = 'unreachable'
    const { concealing } = pageOf(() => [shown], ['unreachable'])
    await concealing.conceal(['herring-4711'], ['http://ferry.example'])
    expect(await concealing.picture(async () => 'an error')).toBe('an error')
    shown = 'fares'
    const taken: string[] = []
    await concealing.picture(async () => {
      taken.push(shown)
      shown = 'unreachable'
    })
    expect(taken).toEqual(['fares', 'unreachable'])
  })
  it('asks no document where there is no secret', async () => {
    let pages = 0
    const { concealing } = pageOf(() => [`page ${pages}`])
    expect(await concealing.picture(async () => ++pages)).toBe(1)
  })
})
