import { setTimeout as sleep } from 'node:timers/promises'
import type { HTTPRequest, Page } from 'puppeteer-core'
import type { NetworkChange } from '@/core/model'
import { ANSWER_HEADERS, NetworkRules } from '../driver/network-rules'

/** What the network of an attempt does; requests go through here only once something was changed. A browser
 * that is said to be offline is not told so itself: its requests fail. */
export class Network {
  private readonly rules = new NetworkRules()
  private readonly pages = new Set<Page>()
  private isOn = false

  async change(change: NetworkChange): Promise<void> {
    this.rules.change(change)
    if (this.isOn || this.rules.isUsual) return
    this.isOn = true
    for (const page of this.pages) await this.intercept(page)
  }

  /** A window of the attempt. */
  async follow(page: Page): Promise<void> {
    this.pages.add(page)
    page.once('close', () => this.pages.delete(page))
    if (this.isOn) await this.intercept(page)
  }

  private async intercept(page: Page): Promise<void> {
    page.on('request', (request) => void this.handle(request).catch(() => {}))
    await page.setRequestInterception(true)
  }

  private async handle(request: HTTPRequest): Promise<void> {
    const verdict = this.rules.of(request.url())
    if (verdict.do === 'fail') return request.abort('failed')
    if (verdict.do === 'answer') {
      const { status, type, body } = verdict
      return request.respond({ status, contentType: type, body, headers: ANSWER_HEADERS })
    }
    if (verdict.do === 'delay') await sleep(verdict.ms)
    return request.continue()
  }
}
