/** A bridge: browsers that run elsewhere, behind any W3C WebDriver endpoint. The agent runs here and only
 * steers. */
import type { Environment } from '@/core/model'
import { OPEN_POLICY, OutgoingRefused, refusalOfAddress, type OutgoingPolicy } from '@/node/outgoing'
import { requireNone } from '../driver/conditions'
import type { Pace } from '../driver/port'
import { PagedDriver } from '../page/driver'
import { WebDriverSession } from './client'
import { WebDriverEngine } from './engine'

/** `capabilities`: what a session there has to be, by the key of the environment; without, its browser and
 * platform by their usual names. `folder`: where its downloads can be seen from here, if anywhere. */
export type Bridge = {
  endpoint: string
  capabilities?: Record<string, Record<string, unknown>>
  folder?: string
}

/** @throws {OutgoingRefused} where the policy refuses the endpoint; when it does not answer, or gives no such
 * session */
export async function openBridge(
  { endpoint, capabilities, folder }: Bridge,
  environment: Environment,
  pace: Pace,
  { films = true, policy = OPEN_POLICY }: { films?: boolean; policy?: OutgoingPolicy } = {},
): Promise<PagedDriver<unknown, unknown>> {
  requireNone('A browser behind a bridge', environment, ['timeZone', 'colours', 'location', 'camera'])
  const refusal = await refusalOfAddress(endpoint, policy)
  if (refusal) throw new OutgoingRefused(`The bridge is not opened: ${refusal}`)
  const wanted = capabilities?.[environment.key] ?? usualCapabilities(environment)
  const session = await WebDriverSession.start(endpoint.replace(/\/$/, ''), {
    ...wanted,
    unhandledPromptBehavior: 'ignore',
  })
  const { browserName, browserVersion } = session.capabilities
  const facts = {
    browser: [browserName, browserVersion].filter(Boolean).join(' '),
    screen: `${environment.width}x${environment.height}`,
    locale: environment.locale,
    through: new URL(endpoint).host,
  }
  const engine = new WebDriverEngine(session, environment, pace, facts, folder, async () => {})
  await engine.size()
  return new PagedDriver(engine, environment, pace, films) as PagedDriver<unknown, unknown>
}

/** Names by which endpoints know browsers, where they are not just the name in small letters. */
const BROWSER_NAMES: Record<string, string> = { chromium: 'chrome', edge: 'MicrosoftEdge' }
/** Platforms as W3C WebDriver names them (section 7, "platformName"). */
const PLATFORMS: [RegExp, string][] = [
  [/windows/i, 'windows'],
  [/mac/i, 'mac'],
  [/linux|debian|ubuntu|fedora/i, 'linux'],
]

export function usualCapabilities({
  browser,
  os,
}: Pick<Environment, 'browser' | 'os'>): Record<string, unknown> {
  const name = browser.toLowerCase()
  const platformName = PLATFORMS.find(([pattern]) => pattern.test(os))?.[1]
  return { browserName: BROWSER_NAMES[name] ?? name, ...(platformName && { platformName }) }
}
