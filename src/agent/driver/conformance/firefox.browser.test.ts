import { FirefoxHolder } from '../../firefox/browser'
import { openFirefox } from '../../firefox/open'
import { realPace } from '../port'
import { conform, environmentOf } from '../testing/conformance'

const firefox = new FirefoxHolder()
afterAll(() => firefox.close())

conform('Firefox', () => openFirefox(firefox, environmentOf('Firefox'), realPace()))

test('attempts that are over leave nothing at their browser, which outlives them', async () => {
  const environment = environmentOf('Firefox')
  const browser = await firefox.get(environment)
  const before = browser.listenerCount('disconnected')
  for (let i = 0; i < 3; i++) await (await openFirefox(firefox, environment, realPace())).close()
  expect(browser.listenerCount('disconnected')).toBe(before)
})
