import sharp from 'sharp'
import { openWebKit } from '../../webdriver/webkit'
import { realPace } from '../port'
import { conform, environment, environmentOf, pagesOfTests } from '../testing/conformance'
import { PATIENT_MS, until } from '../testing/patience'

const base = pagesOfTests()

conform('WebKitGTK', async () => (await openWebKit(environmentOf('WebKitGTK'), realPace())).driver)

test('the whole display has more than the page, and masks what the page’s screens mask', async () => {
  const written = async (secret: string) => {
    const { driver } = await openWebKit(environment, realPace())
    await driver.open(base(), PATIENT_MS)
    await driver.type({ label: 'Secret' }, secret, PATIENT_MS)
    await driver.type({ placeholder: 'your name' }, secret, PATIENT_MS, true)
    await driver.choose({ label: 'Port' }, 'Tolva', PATIENT_MS)
    return driver
  }
  const drivers = [await written('a'), await written('much longer than the other')]
  try {
    // a screen of the page has it painted what was done
    const [screen] = [(await drivers[0]!.screen())!, await drivers[1]!.screen()]
    const { width, height } = screen
    const display = (await drivers[0]!.display!())!
    const size = await sharp(display.bytes).metadata()
    expect(size.width).toBeGreaterThan(width)
    expect(size.height).toBeGreaterThan(height)
    const fields = async () =>
      Promise.all(
        drivers.map(async (driver) => {
          const { bytes } = (await driver.display!())!
          return (await sharp(bytes).resize({ width: 300 }).greyscale().raw().toBuffer()).toString('hex')
        }),
      )
    // What a page has done is painted a moment later, on a busy machine much later.
    let shown = await fields()
    await until(async () => {
      shown = await fields()
      return shown[0] === shown[1]
    })
    expect(shown[0] === shown[1]).toBe(true)
  } finally {
    for (const driver of drivers) await driver.close()
  }
})
