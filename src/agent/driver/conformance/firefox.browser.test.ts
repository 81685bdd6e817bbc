import { FirefoxHolder } from '../../firefox/browser'
import { openFirefox } from '../../firefox/open'
import { realPace } from '../port'
import { conform, environmentOf } from '../testing/conformance'

const firefox = new FirefoxHolder()
afterAll(() => firefox.close())

conform('Firefox', () => openFirefox(firefox, environmentOf('Firefox'), realPace()))
