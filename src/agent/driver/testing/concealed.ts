/** The part of the conformance suite that is about secrets on screens. Two that have the same letters in
 * another order, and so the same length on a screen, look different there until they are hidden. */
import type { Around } from './beyond'
import { PATIENT_MS, until } from './patience'
import { differingPart } from './seen'

const [ONE, OTHER] = ['herring-4711', 'herring-1714']
/** The driver is the same for all tests, and hides for good what it was told. */
const [LATE, LATER] = ['haddock-2938', 'haddock-8392']

export function conformConcealing({ of, at, text, driver, stores }: Around): void {
  const pictureNow = async () => (await driver().screen())!.bytes
  /** What is seen once a page has given back what was typed. */
  const seenOf = async (path: string, word: string, label: string) => {
    await at(path)
    await driver().type({ label }, word, PATIENT_MS, true)
    if (path === '/') await driver().click({ role: 'button', name: 'Send' }, PATIENT_MS)
    await until(async () => (await text('got')).includes(word))
    expect(await text('got')).toContain(word)
    return pictureNow()
  }
  /** What is seen once a script has written it into a field, which nothing in the document tells of. */
  const seenLater = async (word: string) => {
    await at('/late')
    // a picture of the document from before: what it hides is looked for then
    await driver().screen()
    await driver().type({ label: 'Word' }, word, PATIENT_MS, true)
    const written = async () => driver().attribute({ testId: 'late' }, 'title')
    await until(async () => (await written()) === `${word.length}`)
    expect(await written()).toBe(`${word.length}`)
    return pictureNow()
  }
  const conceal = async (...texts: string[]) =>
    driver().conceal(texts, [new URL(await driver().url()).origin])

  /** The part of two screens that differs, so that a failure says what was seen. */
  const apart = async (seen: (word: string) => Promise<Uint8Array>, one: string, other: string) =>
    differingPart(await seen(one), await seen(other))
  const sent = (word: string) => seenOf('/', word, 'Name')
  const echoed = (word: string) => seenOf('/echo', word, 'Word')

  of('secrets', 'shows what was typed on no screen, also where a page gives it back', async () => {
    expect(await apart(sent, ONE, OTHER)).toBeDefined()
    if (stores) expect(await apart(echoed, ONE, OTHER)).toBeDefined()
    await conceal(ONE, OTHER)
    expect(await apart(sent, ONE, OTHER)).toBeUndefined()
    // where a script gives it back: over the borders of elements, in a shadow root, in another field
    if (stores) expect(await apart(echoed, ONE, OTHER)).toBeUndefined()
  })
  of('secrets', 'shows on no screen what a script writes into a field', async () => {
    if (!stores) return
    expect(await apart(seenLater, LATE, LATER)).toBeDefined()
    await conceal(LATE, LATER)
    expect(await apart(seenLater, LATE, LATER)).toBeUndefined()
  })
}
