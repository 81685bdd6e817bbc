import type { SignedInState } from '@/core/model'
import { quietPageOf, requireOrigin, signedInOf } from '../driver/identity'
import type { Identity } from '../driver/port'
import type { Engine } from './engine'

export class PagedIdentity<F, E> implements Identity {
  constructor(private readonly engine: Engine<F, E>) {}

  async keep(): Promise<SignedInState> {
    const { engine } = this
    return signedInOf(
      await engine.url(),
      () => engine.cookies(),
      async () => engine.run(await this.top(), 'stored'),
    )
  }

  async take({ cookies, origin, stored }: SignedInState, limitMs: number): Promise<void> {
    const { engine } = this
    await engine.goto(quietPageOf(origin), limitMs)
    requireOrigin(await engine.url(), origin)
    await engine.setCookies(cookies)
    await engine.run(await this.top(), 'store', stored)
    await engine.goto('about:blank', limitMs)
  }

  private async top(): Promise<F> {
    return (await this.engine.frames())[0]!
  }
}
