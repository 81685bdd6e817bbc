/** A bridge: browsers that run elsewhere, behind any W3C WebDriver endpoint. The agent runs here and only steers. */
import type { Environment } from '@/core/model'
import type { Pace } from '../driver/port'
import { PagedDriver } from '../page/driver'
import { WebDriverSession } from './client'
import { WebDriverEngine } from './engine'

/** `capabilities`: what a session there has to be, by the key of the environment; `folder`: where its downloads can be seen from here, if anywhere. */
export type Bridge = { endpoint: string; capabilities: Record<string, Record<string, unknown>>; folder?: string }

/** @throws when the endpoint does not answer, or gives no such session */
export async function openBridge({ endpoint, capabilities, folder }: Bridge, environment: Environment, pace: Pace, films = true): Promise<PagedDriver<unknown, unknown>> {
  const wanted = capabilities[environment.key]
  if (!wanted) throw new Error(`the bridge has no capabilities for ${environment.key}`)
  const session = await WebDriverSession.start(endpoint.replace(/\/$/, ''), { ...wanted, unhandledPromptBehavior: 'ignore' })
  const { browserName, browserVersion } = session.capabilities
  const facts = { browser: [browserName, browserVersion].filter(Boolean).join(' '), screen: `${environment.width}x${environment.height}`, locale: environment.locale, through: new URL(endpoint).host }
  const engine = new WebDriverEngine(session, environment, pace, facts, folder, async () => {})
  await engine.size()
  return new PagedDriver(engine, environment, pace, films) as PagedDriver<unknown, unknown>
}
