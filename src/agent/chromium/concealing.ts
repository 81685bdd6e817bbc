/** Texts that pages show to no screen. What looks for them runs beside the scripts of the page, which neither
 * see nor change it, and before them in each document that comes. */
import type { CDPSession, Page } from 'playwright-core'
import { hideEchoes } from '../page/echoes'

const WORLD = 'oak-echoes'

export class Concealing {
  private readonly texts = new Set<string>()
  private origins: readonly string[] = []
  /** How many of the texts each window knows. */
  private readonly known = new WeakMap<Page, number>()

  constructor(private readonly session: (page: Page) => Promise<CDPSession>) {}

  /** Hides these texts from now on, in documents of these origins. */
  async conceal(page: Page, texts: readonly string[], origins: readonly string[]): Promise<void> {
    for (const text of texts) this.texts.add(text)
    this.origins = origins
    await this.in(page)
  }

  /** Before a window is shown. */
  async in(page: Page): Promise<void> {
    if (this.texts.size === (this.known.get(page) ?? 0)) return
    this.known.set(page, this.texts.size)
    const session = await this.session(page)
    await session.send('Page.enable')
    await session.send('Page.addScriptToEvaluateOnNewDocument', {
      source: `(${hideEchoes.toString()})(${JSON.stringify([...this.texts])}, ${JSON.stringify(this.origins)})`,
      worldName: WORLD,
      runImmediately: true,
    })
  }
}
