/** The part of the conformance suite that is about secrets on screens. Two that have the same letters in
 * another order, and so the same length on a screen, look different there until they are hidden. */
import type { Around } from './beyond'
import { PATIENT_MS, until } from './patience'

const [ONE, OTHER] = ['herring-4711', 'herring-1714']

export function conformConcealing({ of, at, text, driver, stores }: Around): void {
  /** What is seen once a page has given back what was typed. */
  const seenOf = async (path: string, word: string, label: string) => {
    await at(path)
    await driver().type({ label }, word, PATIENT_MS, true)
    if (path === '/') await driver().click({ role: 'button', name: 'Send' }, PATIENT_MS)
    await until(async () => (await text('got')).includes(word))
    const shot = (await driver().screen())!
    return Buffer.from(shot.bytes).toString('base64')
  }
  const conceal = async () => driver().conceal([ONE, OTHER], [new URL(await driver().url()).origin])

  of('secrets', 'shows what was typed on no screen, also where a page gives it back', async () => {
    expect(await seenOf('/', ONE, 'Name')).not.toBe(await seenOf('/', OTHER, 'Name'))
    if (stores) expect(await seenOf('/echo', ONE, 'Word')).not.toBe(await seenOf('/echo', OTHER, 'Word'))
    await conceal()
    expect(await seenOf('/', ONE, 'Name')).toBe(await seenOf('/', OTHER, 'Name'))
    // where a script gives it back: over the borders of elements, in a shadow root, in another field
    if (stores) expect(await seenOf('/echo', ONE, 'Word')).toBe(await seenOf('/echo', OTHER, 'Word'))
  })
}
