import { setTimeout as sleep } from 'node:timers/promises'
import type { BrowserContext, Route } from 'playwright-core'
import type { NetworkChange } from '@/core/model'
import { ANSWER_HEADERS, NetworkRules } from '../driver/network-rules'

/** What the network of an attempt does; requests go through here only once something was changed. */
export class Network {
  private readonly rules = new NetworkRules()
  private isRouted = false

  constructor(private readonly context: BrowserContext) {}

  async change(change: NetworkChange): Promise<void> {
    this.rules.change(change)
    await this.context.setOffline(this.rules.isOffline)
    if (this.isRouted || this.rules.isUsual) return
    this.isRouted = true
    await this.context.route('**/*', (route) => this.handle(route).catch(() => {}))
  }

  private async handle(route: Route): Promise<void> {
    const verdict = this.rules.of(route.request().url())
    if (verdict.do === 'fail') return route.abort('failed')
    if (verdict.do === 'answer') {
      const { status, type, body } = verdict
      return route.fulfill({ status, contentType: type, body, headers: ANSWER_HEADERS })
    }
    if (verdict.do === 'delay') await sleep(verdict.ms)
    return route.continue()
  }
}
