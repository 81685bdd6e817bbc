/** What pages show to no screen: password fields, and texts that are secret. */
import type { Engine } from './engine'

/** Of a page that goes on from address to address by itself. */
const TAKEN_MOST = 5

/** What all documents of a page do: they hid the texts before, one of them only does so now, or no script
 * runs in the page itself (as in a page of the browser's own that tells an error). */
type Hidden = 'as before' | 'now' | 'unreachable'

export class Concealing<F, E> {
  private readonly texts = new Set<string>()
  private origins: readonly string[] = []

  constructor(private readonly engine: Engine<F, E>) {}

  /** Hides these texts from now on, in documents of these origins. */
  conceal = async (texts: readonly string[], origins: readonly string[]): Promise<void> => {
    for (const text of texts) this.texts.add(text)
    this.origins = origins
  }

  /** Takes a picture of documents that hide what they should. One that came while it was taken may show what
   * it should not: the picture is thrown away then, and another one taken.
   * @param also what else is hidden in every document
   * @returns nothing where no picture could be had of documents that stay */
  async picture<T>(take: () => Promise<T>, also: readonly 'hideCaret'[] = []): Promise<T | undefined> {
    for (let taken = 0; taken < TAKEN_MOST; taken++) {
      const before = await this.hide(also)
      const picture = await take()
      if (this.texts.size === 0) return picture
      const after = await this.hideTexts()
      if (after === 'as before' || (after === 'unreachable' && before === after)) return picture
    }
    return undefined
  }

  /** A document that is going away just then has nothing to hide. */
  private async hide(also: readonly 'hideCaret'[]): Promise<Hidden> {
    const frames = await this.engine.frames().catch(() => [])
    const [top] = frames
    if (top !== undefined) await this.engine.run(top, 'hideSecrets').catch(() => {})
    for (const frame of frames) for (const what of also) await this.engine.run(frame, what).catch(() => {})
    return this.texts.size > 0 ? this.hideTexts() : 'as before'
  }

  private async hideTexts(): Promise<Hidden> {
    const frames = await this.engine.frames().catch(() => [])
    const answers: Hidden[] = []
    for (const frame of frames)
      answers.push(
        await this.engine.run(frame, 'hideEchoes', [...this.texts], this.origins).then(
          (didBefore) => (didBefore ? 'as before' : 'now'),
          () => 'unreachable',
        ),
      )
    if (answers.includes('now')) return 'now'
    return answers[0] ?? 'unreachable'
  }
}
