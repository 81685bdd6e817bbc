/** Browsers that a person steers, as the tests of live sessions open them: their engines, and hands for
 * them. */
import { stepsOfRecording, type LiveList, type RecordedEvent } from '@/core/live'
import { stepForm } from '@/core/model/editing'
import { endBrowser, newMark } from '../../browser-process'
import { BrowserHolder } from '../../chromium/browser'
import { openChromium } from '../../chromium/open'
import { FirefoxHolder, findFirefox } from '../../firefox/browser'
import { openFirefox } from '../../firefox/open'
import { openWebKit, webkitMissing } from '../../webdriver/webkit'
import { openWithMemory, type LiveBrowser, type LiveListeners } from '../live'
import { realPace, type BrowserDriver } from '../port'
import { environment } from './conformance'
import { PATIENT_MS } from './patience'

export type EngineOfTests = {
  name: string
  isHere: boolean
  open(): Promise<BrowserDriver>
  kill(): void
  close(): Promise<void>
}

/** Those that are installed here; another test file has browsers of its own. */
export function enginesOfTests(): EngineOfTests[] {
  const holder = new BrowserHolder()
  // as where a frame of another site has a process of its own
  const isolating = new BrowserHolder(['--site-per-process'])
  const firefox = new FirefoxHolder()
  const webkitMark = newMark()
  return [
    {
      name: 'Chromium',
      isHere: true,
      open: () => openChromium(holder, environment, realPace(), false),
      kill: () => holder.kill(),
      close: () => holder.close(),
    },
    {
      name: 'Chromium that keeps sites apart',
      isHere: true,
      open: () => openChromium(isolating, environment, realPace(), false),
      kill: () => isolating.kill(),
      close: () => isolating.close(),
    },
    {
      name: 'Firefox',
      isHere: findFirefox() !== undefined,
      open: () => openFirefox(firefox, environment, realPace(), false),
      kill: () => firefox.kill(),
      close: () => firefox.close(),
    },
    {
      name: 'WebKit',
      isHere: webkitMissing().length === 0,
      open: async () => (await openWebKit(environment, realPace(), false, webkitMark)).driver,
      kill: () => endBrowser(webkitMark),
      close: async () => {},
    },
  ]
}

type Where = { label?: string; role?: string; name?: string; css?: string; text?: string }

/** One browser that is steered, and what was heard of it. */
export class SteeredBrowser {
  readonly events: RecordedEvent[] = []
  readonly dialogs: string[] = []
  readonly filesAsked: boolean[] = []
  list: LiveList | null = null
  frames = 0
  newest: Uint8Array = new Uint8Array()
  ask: LiveListeners['ask'] = async () => undefined
  live!: LiveBrowser

  private constructor(readonly driver: BrowserDriver) {}

  static async open(open: () => Promise<BrowserDriver>, url: string): Promise<SteeredBrowser> {
    const one = new SteeredBrowser(await open())
    one.live = await openWithMemory((listeners) => one.driver.live!(listeners), {
      frame: (jpeg) => {
        one.frames++
        one.newest = jpeg
      },
      seen: (event) =>
        void one.events.push({ ...event, atMs: Math.round(performance.now()) } as RecordedEvent),
      list: (list) => (one.list = list),
      files: (several) => void one.filesAsked.push(several),
      ask: (dialog) => one.ask(dialog),
      dialog: (words, answer) => void one.dialogs.push(`${words}: ${answer}`),
    })
    await one.driver.open(url, PATIENT_MS)
    return one
  }

  async close(): Promise<void> {
    await this.live.close()
    await this.driver.close()
  }

  recorded = () => stepsOfRecording(this.events)
  steps = () => this.recorded().map(({ step }) => stepForm(step))

  async middle(target: Where): Promise<{ x: number; y: number }> {
    const { x, y, w, h } = (await this.driver.look(target)).found!.box!
    return { x: x + w / 2, y: y + h / 2 }
  }

  async point(target: Where): Promise<void> {
    const at = await this.middle(target)
    await this.live.input({ do: 'mouse', type: 'move', ...at, button: 'none', clicks: 0, with: [] })
  }

  /** @param clicks as the browser of the one who steers counts them, at one place in a short time */
  async click(target: Where, clicks = 1): Promise<void> {
    const at = await this.middle(target)
    for (const doing of ['down', 'up'] as const)
      await this.live.input({ do: 'mouse', type: doing, ...at, button: 'left', clicks, with: [] })
  }

  async type(text: string): Promise<void> {
    for (const key of text) await this.press(key)
  }

  async press(key: string): Promise<void> {
    for (const doing of ['down', 'up'] as const)
      await this.live.input({ do: 'key', type: doing, key, code: '', with: [] })
  }
}
