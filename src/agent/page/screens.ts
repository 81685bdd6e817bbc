/** Screens of a page: for the log, for comparing, and for the video that is made of them. */
import type { Environment } from '@/core/model'
import type { Pace, ScreenShot } from '../driver/port'
import { Concealing } from './concealing'
import type { Engine } from './engine'
import { Film } from './film'

export class PageScreens<F, E> {
  private readonly film: Film | undefined
  private readonly concealing: Concealing<F, E>

  constructor(
    private readonly engine: Engine<F, E>,
    private readonly size: Pick<Environment, 'width' | 'height'>,
    pace: Pace,
    films: boolean,
  ) {
    this.concealing = new Concealing(engine)
    this.film = films ? new Film(size, pace.now) : undefined
  }

  conceal = (texts: readonly string[], origins: readonly string[]) => this.concealing.conceal(texts, origins)

  async screen(): Promise<ScreenShot | undefined> {
    const shot = await this.shot('jpeg')
    if (shot) this.film?.add(shot.bytes)
    return shot
  }

  /** For people who watch: it goes into no video. */
  live = (): Promise<ScreenShot | undefined> => this.shot('jpeg')
  exact = (): Promise<ScreenShot | undefined> => this.shot('png', ['hideCaret'])
  /** Of an engine that shows its windows somewhere. */
  async display(): Promise<ScreenShot | undefined> {
    return this.concealing.picture(async () => this.engine.display?.())
  }

  stopVideo = async () => this.film?.stop(() => this.screen())

  /** Its encoder must not outlive the attempt. */
  async close(): Promise<void> {
    await this.film?.stop()
  }

  private async shot(type: 'jpeg' | 'png', also: readonly 'hideCaret'[] = []) {
    const take = () => this.engine.screenshot(type).catch(() => undefined)
    const bytes = await this.concealing.picture(take, also)
    const { width, height } = this.size
    return bytes && { bytes, mime: `image/${type}` as const, width, height }
  }
}
