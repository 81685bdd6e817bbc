import { HiddenScreen, openWebKit } from '../../webdriver/webkit'
import { realPace } from '../port'
import { conform, environmentOf } from '../testing/conformance'

const screen = new HiddenScreen()
afterAll(() => screen.close())

conform('WebKitGTK', async () => (await openWebKit(screen, environmentOf('WebKitGTK'), realPace())).driver)
