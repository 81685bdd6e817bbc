/** What pages show to no screen: password fields, and texts that are secret. */
import type { Engine } from './engine'

export class Concealing<F, E> {
  private readonly texts = new Set<string>()
  private origins: readonly string[] = []

  constructor(private readonly engine: Engine<F, E>) {}

  /** Hides these texts from now on, in documents of these origins. */
  conceal = async (texts: readonly string[], origins: readonly string[]): Promise<void> => {
    for (const text of texts) this.texts.add(text)
    this.origins = origins
  }

  /** Before a screen is taken. A document that is going away just then has nothing to hide.
   * @param also what else is hidden in every document */
  async hide(also: readonly 'hideCaret'[] = []): Promise<void> {
    const frames = await this.engine.frames().catch(() => [])
    const [top] = frames
    if (top !== undefined) await this.engine.run(top, 'hideSecrets').catch(() => {})
    for (const frame of frames) for (const what of also) await this.engine.run(frame, what).catch(() => {})
    if (this.texts.size === 0) return
    for (const frame of frames)
      await this.engine.run(frame, 'hideEchoes', [...this.texts], this.origins).catch(() => {})
  }
}
